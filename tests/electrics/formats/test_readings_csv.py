"""The readings file: read whole or refused whole."""

from __future__ import annotations

import pytest

from electrics.errors import ReadingsFileError
from electrics.formats.csv_rows import decode
from electrics.formats.readings_csv import COLUMNS, read_readings, write_readings
from electrics.vocabulary import Instrument, Load

CONTRACT = """access_point,pin,colour,state,instrument,reading,load,supply,against,note
left tail lamp,1,BK,rest,ohms,0.3 ohm,in,12.6,,
left tail lamp,3,WH/GN,reverse,dmm,12.2,in,12.6,,engine off
"""


def test_the_example_of_the_format_is_read():
    first, second = read_readings(CONTRACT)
    assert (first.pin, first.colour, str(first.state), first.instrument) == ("1", "BK", "rest", Instrument.OHMS)
    assert (second.reading.low, second.load, second.supply_v, second.note) == (12.2, Load.IN, 12.6, "engine off")


@pytest.mark.parametrize(
    "text",
    [
        "state,reading,pin\nreverse,12.2,3\n",
        "Pin;State;Reading\n3;reverse;12,2\n",
        "pin\tstate\treading\n3\treverse\t12.2 V\n",
        "\ufeffpin,state,reading\r\n3,reverse,12.2\r\n\r\n",
        'pin,state,reading\n3,reverse,"12,2"\n',
    ],
)
def test_columns_order_separator_and_line_ends_do_not_matter(text):
    (row,) = read_readings(decode(text.encode()))
    assert (row.access_point, row.pin, str(row.state), row.reading.low) == ("main", "3", "reverse", 12.2)
    assert (row.instrument, row.load, row.supply_v) == (Instrument.DMM, Load.IN, 12.6)


def test_supply_is_the_last_one_given():
    rows = read_readings("pin,state,reading,supply\n1,rest,0,\n1,key,0,12.3\n1,park,0,\n1,engine,0,14.1\n1,low,0,\n")
    assert [row.supply_v for row in rows] == [12.6, 12.3, 12.3, 14.1, 14.1]


def test_a_24_volt_reading_without_a_supply_means_a_24_volt_system():
    (row,) = read_readings("pin,state,reading\n1,park,24.8\n")
    assert row.supply_v == 25.2


def test_every_bad_row_is_listed_with_its_line_and_reason():
    text = (
        "pin,colour,state,instrument,reading,load,supply,against\n"
        "1,BK,rest,dmm,0,in,12.6,\n"
        "2,BN,clutch,dmm,0,in,,\n"
        "3,WH,rest,sundial,0,in,,\n"
        "4,YE,rest,dmm,twelve,in,,\n"
        "5,VT,rest,dmm,0,sideways,,\n"
        ",VT,rest,dmm,0,in,,\n"
        "6,VT,rest,dmm,,in,,\n"
        "7,VT,rest,dmm,0,in,3000,\n"
        "8,VT,rest,dmm,0,in,,8\n"
        "1,GN,park,dmm,0,in,,\n"
        "9,VT,rest,dmm,12,4,in,12.6,,\n"
    )
    with pytest.raises(ReadingsFileError) as caught:
        read_readings(text)
    found = [(problem.line, problem.reason) for problem in caught.value.problems]
    assert [line for line, _ in found] == list(range(3, 13))
    for (_, reason), word in zip(
        found,
        [
            "clutch",
            "sundial",
            "twelve",
            "sideways",
            "pin is empty",
            "reading is empty",
            "3000",
            "itself",
            "further up",
        ],
        strict=False,
    ):
        assert word in reason
    assert "quotes" in found[-1][1]


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("pin,state\n1,rest\n", "line 1: has no column reading"),
        ("pin,state,reading,instument\n1,rest,0,ohms\n", "unknown column “instument”"),
        ("pin,pin,state,reading\n1,1,rest,0\n", "column pin twice"),
        ("pin,state,reading\n", "no readings below it"),
        ("", "has no column pin"),
        ('pin,state,reading\n1,rest,"0\n', "is no CSV"),
    ],
)
def test_a_file_without_usable_columns_is_refused(text, complaint):
    with pytest.raises(ReadingsFileError, match=complaint):
        read_readings(text)


def test_another_encoding_is_named_not_guessed():
    with pytest.raises(ReadingsFileError, match=r"line 2: is not UTF-8"):
        decode("pin,state,reading,note\n1,rest,0,gr\xfcn\n".encode("latin-1"))


def test_what_is_written_reads_back_the_same():
    rows = [dict.fromkeys(COLUMNS, "") | {"pin": "3", "state": "brake+left", "reading": "0-12", "note": 'a "b", c'}]
    (row,) = read_readings(write_readings(rows))
    assert (row.pin, str(row.state), row.text, row.note) == ("3", "brake+left", "0-12", 'a "b", c')
