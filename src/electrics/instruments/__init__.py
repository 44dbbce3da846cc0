"""The instruments: each one class, which says what it shows on a solved circuit and what it may show on a wire in
some condition. What is weighed and what a virtual meter reads stand side by side and are held against each other.

`condition` is what an instrument meets, `display` where its display falls, `meter` what every instrument is, `every`
the list of them.
"""
