"""Forms as a browser would send them: with the hidden fields that the page carries."""

from __future__ import annotations

from html.parser import HTMLParser


class _Forms(HTMLParser):
    def __init__(self):
        super().__init__()
        self.forms = []

    def handle_starttag(self, tag, attrs):
        found = dict(attrs)
        if tag == "form":
            self.forms.append((found.get("action") or found.get("hx-post") or "", {}))
        elif tag == "input" and self.forms and found.get("type") == "hidden" and found.get("name"):
            self.forms[-1][1].setdefault(found["name"], []).append(found.get("value", ""))


def forms_on(html, action):
    """The hidden fields of every form on a page that posts to an address ending so."""
    parser = _Forms()
    parser.feed(html)
    return [fields for address, fields in parser.forms if address.endswith(action)]


def send(page, address, action, *, headers=None, follow=False, **sent):
    """Open a page, fill in its form that posts to `action` and whose hidden fields agree with `sent`, post it."""
    forms = forms_on(page.get(address).content.decode(), action)
    hidden = next((each for each in forms if all(each.get(name, [sent[name]]) == [sent[name]] for name in sent)), {})
    return page.post(next_address(address, action), {**hidden, **sent}, headers=headers or {}, follow=follow)


def next_address(address, action):
    """`/jobs/7/prove/` and `prove/sign/`: `/jobs/7/prove/sign/`."""
    job = address.split("/")[2]
    return f"/jobs/{job}/{action}"
