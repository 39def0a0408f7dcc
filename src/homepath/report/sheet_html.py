"""A sheet as a page to work from: it opens from a file, copies each value, remembers what is done, and prints."""

from __future__ import annotations

import base64
import hashlib
import re
from collections.abc import Iterator, Sequence
from html import escape

from homepath.core.dns.names import Name, shown
from homepath.core.files.sheet import Deed, Job, Line
from homepath.core.model.brief import Notation
from homepath.core.model.visible import visible
from homepath.core.wording.say import say
from homepath.core.wording.times import ttl_words
from homepath.report.letter import ending, how_to_type, introduction

_TITLES: tuple[tuple[Deed, str], ...] = (("delete", "Delete"), ("enter", "Enter"))
_STYLE = """
:root { color-scheme: light dark; --ink: #22262b; --paper: #fbfaf7; --line: #c9c4b8; --soft: #555b63; --mark: #fff;
  --act: #1d4f7c; --act-ink: #fff; --done: #e9efe6 }
@media (prefers-color-scheme: dark) { :root { --ink: #ece9e2; --paper: #1c1e21; --line: #4b4f55; --soft: #b6b9be;
  --mark: #26292d; --act: #8fc1ea; --act-ink: #10202e; --done: #26332a } }
* { box-sizing: border-box }
body { font: 1rem/1.5 system-ui, sans-serif; color: var(--ink); background: var(--paper); max-width: 68rem;
  margin: 2rem auto; padding: 0 1rem }
h1 { font-size: 1.6rem; margin: 0 0 .5rem } h2 { font-size: 1.15rem; margin: 2rem 0 .25rem }
ol { list-style: none; margin: .5rem 0 0; padding: 0 }
ol > li { border: 1px solid var(--line); border-radius: .5rem; background: var(--mark); margin: 0 0 .6rem;
  padding: .7rem .9rem; break-inside: avoid }
ol > li.done { background: var(--done) }
.do { display: flex; gap: .7rem; align-items: baseline; flex-wrap: wrap }
.do label { font-weight: 600 } .do input { width: 1.1rem; height: 1.1rem; flex: none }
dl { display: grid; grid-template-columns: 4.5rem 1fr auto; gap: .3rem .8rem; margin: .5rem 0 0; align-items: center }
dt { color: var(--soft) } dd { margin: 0; min-width: 0 }
dd.tool { justify-self: end }
code { font: .95rem/1.5 ui-monospace, monospace; overflow-wrap: break-word; user-select: all }
button { font: inherit; font-size: .9rem; padding: .2rem .8rem; border: 1px solid var(--act); border-radius: .4rem;
  background: var(--act); color: var(--act-ink); cursor: pointer }
button:focus-visible, input:focus-visible { outline: 3px solid var(--act); outline-offset: 2px }
.note { color: var(--soft); font-size: .9rem }
@media (max-width: 34rem) { dl { grid-template-columns: 1fr auto } dt { grid-column: 1 / -1; margin-top: .3rem } }
@media print { button { display: none } body { margin: 0; max-width: none } ol > li { border-color: #888 }
  @page { margin: 15mm } }
"""
_SCRIPT = """
(function () {
  "use strict";
  var say = document.getElementById("said"), key = document.body.dataset.key, kept = {};
  try { kept = JSON.parse(localStorage.getItem(key) || "{}") } catch (e) { kept = {} }
  function shown() {
    var all = document.querySelectorAll("input[type=checkbox]"), done = 0;
    all.forEach(function (box) {
      if (box.checked) { done += 1 }
      box.closest("li").classList.toggle("done", box.checked);
    });
    document.getElementById("count").textContent = done + " of " + all.length + " done";
  }
  document.querySelectorAll("input[type=checkbox]").forEach(function (box) {
    box.checked = kept[box.id] === true;
    box.addEventListener("change", function () {
      kept[box.id] = box.checked;
      try { localStorage.setItem(key, JSON.stringify(kept)) }
      catch (e) { say.textContent = "This browser keeps nothing." }
      shown();
    });
  });
  function byHand(code) {
    var range = document.createRange(), chosen = getSelection();
    range.selectNodeContents(code); chosen.removeAllRanges(); chosen.addRange(range);
    return document.execCommand("copy");
  }
  document.querySelectorAll("button[data-of]").forEach(function (button) {
    button.hidden = false;
    button.addEventListener("click", function () {
      var code = document.getElementById(button.dataset.of);
      function told(good) {
        say.textContent = good ? "Copied: " + code.textContent : "Select the value and copy it by hand.";
        if (good) { button.textContent = "Copied"; setTimeout(function () { button.textContent = "Copy" }, 2000) }
      }
      if (navigator.clipboard && isSecureContext) {
        navigator.clipboard.writeText(code.textContent)
          .then(function () { told(true) }, function () { told(byHand(code)) });
      } else { told(byHand(code)) }
    });
  });
  shown();
})();
"""


def breakable(text: str) -> str:
    """A value as HTML that may break behind a dot or a hyphen, and not inside a label."""
    return re.sub(r"(?<=[.-])(?=\w)", "<wbr>", escape(visible(text)))


def _hash(text: str) -> str:
    """What the page's own policy allows to run: just this text (CSP level 3, section 2.3.1)."""
    return "sha256-" + base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()


def as_page(domain: Name, jobs: Sequence[Job], notation: Notation) -> str:
    """One complete page: nothing is loaded, and only its own script runs."""
    name = escape(shown(domain))
    body = "".join(part for number, job in enumerate(jobs, 1) for part in _job(number, job, len(jobs), notation))
    policy = f"default-src 'none'; style-src '{_hash(_STYLE)}'; script-src '{_hash(_SCRIPT)}'"
    policy += "; base-uri 'none'; form-action 'none'"
    key = hashlib.sha256(body.encode()).hexdigest()[:16]
    return f"""<!doctype html>
<html lang="en"><head><meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="{policy}">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>DNS records for {name}</title>
<style>{_STYLE}</style></head>
<body data-key="homepath-sheet-{key}">
<main>
<h1>DNS records for {name}</h1>
<p>{escape(introduction(notation, jobs))}</p>
<ul>{"".join(f"<li>{escape(words)}</li>" for words in how_to_type(notation, jobs))}</ul>
<p class="note"><span id="count"></span></p>
{body}<p>{escape(ending(notation))}</p>
<p id="said" class="note" role="status" aria-live="polite"></p>
</main>
<script>{_SCRIPT}</script>
</body></html>
"""


def _job(number: int, job: Job, count: int, notation: Notation) -> Iterator[str]:
    yield f"<h2>Change {number} of {count}: {escape(visible(say(job.title)))}</h2>\n<ol>\n"
    at = 0
    for deed, title in _TITLES:
        for line in job.deeds(deed):
            at += 1
            yield _entry(f"{number}-{at}", title, line, notation)
    yield "</ol>\n"
    for text in job.stays:
        yield f'<p class="note">Keep unchanged: <code>{escape(visible(text))}</code></p>\n'


def _entry(key: str, title: str, line: Line, notation: Notation) -> str:
    """One record: a box to tick, then each field of the form with its own button."""
    what = f"{title} {line.type} at {visible(line.name) or 'the domain itself'}"
    rows = [_field(f"n{key}", "Name", line.name, what), _field(f"v{key}", "Value", line.value, what)]
    if line.dotted:
        rows.append('<dt></dt><dd class="note">with the dot at its end</dd><dd class="tool"></dd>')
    if line.ttl is not None:
        rows.append(f'<dt>TTL</dt><dd>{escape(ttl_words(line.ttl, notation))}</dd><dd class="tool"></dd>')
    fields = "\n".join(rows)
    return (
        f'<li><div class="do"><input type="checkbox" id="d{key}"><label for="d{key}">{title}</label>'
        f"<span>Type <code>{escape(line.type)}</code></span></div>\n<dl>\n{fields}\n</dl></li>\n"
    )


def _field(key: str, title: str, text: str, what: str) -> str:
    if not text:
        return f'<dt>{title}</dt><dd>(leave the field empty)</dd><dd class="tool"></dd>'
    label = escape(f"Copy the {title.lower()}: {what}", quote=True)
    return (
        f'<dt>{title}</dt><dd><code id="{key}">{breakable(text)}</code></dd>'
        f'<dd class="tool"><button type="button" data-of="{key}" aria-label="{label}" hidden>Copy</button></dd>'
    )
