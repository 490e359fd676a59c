"""Tool tips that show text as it is: Qt takes what looks like marks for marks."""


def plain_tip(text: str) -> str:
    """Return a text for a tool tip that shows it as it is, lines and all, whatever marks it holds."""
    whole = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return f'<div style="white-space: pre-wrap">{whole}</div>' if text else ""
