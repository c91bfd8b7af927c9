"""The pairing page: all that a device sees which was not let in. It carries nothing of the shop."""

from html import escape

from starlette.responses import HTMLResponse

_PAGE = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Let this device in · Orthotome</title><style>
body {{ margin: 0; min-height: 100vh; display: grid; place-items: center; background: #e7e5de; color: #1f2529;
  font: 18px/1.45 system-ui, sans-serif; }}
main {{ width: min(30rem, 100% - 48px); padding: 32px 0; }}
h1 {{ font-size: 30px; line-height: 1.15; margin: 0 0 12px; }}
label {{ display: block; margin: 20px 0 6px; font-weight: 640; }}
input {{ box-sizing: border-box; width: 100%; min-height: 60px; padding: 0 14px; font: inherit;
  border: 2px solid #4a545b; border-radius: 4px; background: #fbfaf6; color: inherit; }}
#code {{ font: 30px/1 ui-monospace, monospace; letter-spacing: .14em; text-transform: uppercase; }}
button {{ margin-top: 24px; width: 100%; min-height: 60px; border: 0; border-radius: 4px; font: inherit;
  font-weight: 640; background: #2f5796; color: #fbfaf6; }}
[role=alert] {{ margin: 16px 0 0; padding: 12px 16px; border-left: 6px solid #8c2f16; background: #f4f2ec; }}
small {{ display: block; margin-top: 20px; color: #4a545b; font-size: 16px; }}
</style></head><body><main>
<h1>Let this device in</h1>
<p>On the machine that serves Orthotome, open Shop and show a pairing code. Type it here, or read its square
code with this device’s camera.</p>{refusal}
<form method="post" action="/pair">
<label for="code">Pairing code</label>
<input id="code" name="code" value="{code}" maxlength="12" autocomplete="off" autocapitalize="characters" required>
<label for="name">What this device is called</label>
<input id="name" name="name" value="{name}" maxlength="40" placeholder="cart tablet" autocomplete="off" required>
<button>Let it in</button>
</form>
<small>A code lives ten minutes and lets one device in. Whoever leads the shop can put a device out again at any
time.</small>
</main></body></html>
"""

_POLICY = "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

_HEADERS = {
    "content-security-policy": _POLICY,
    # Without a referrer a browser would call the origin of this form "null", and that is refused.
    "referrer-policy": "same-origin",
}


def pairing_page(code: str = "", name: str = "", refusal: str = "") -> HTMLResponse:
    """The page, with what was typed before and why it was refused."""
    said = f'\n<p role="alert">{escape(refusal)}</p>' if refusal else ""
    page = _PAGE.format(code=escape(code[:12]), name=escape(name[:40]), refusal=said)
    return HTMLResponse(page, 403 if refusal else 200, headers=_HEADERS)
