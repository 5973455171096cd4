"""The standard hazard pictograms (UN GHS, annex 1), drawn plainly: a red diamond with its symbol."""

from __future__ import annotations

from reportlab.pdfgen.canvas import Canvas


def draw(canvas: Canvas, mark: str, x: float, y: float, side: float) -> None:
    """A standard red diamond (UN GHS, annex 1) with its symbol, drawn plainly."""
    middle = side / 2
    canvas.saveState()
    canvas.translate(x + middle, y + middle)
    canvas.setStrokeColorRGB(0.8, 0, 0)
    canvas.setLineWidth(side * 0.07)
    path = canvas.beginPath()
    reach = middle * 0.93
    path.moveTo(0, reach)
    for dx, dy in ((reach, 0), (0, -reach), (-reach, 0)):
        path.lineTo(dx, dy)
    path.close()
    canvas.drawPath(path, stroke=1, fill=0)
    canvas.setFillGray(0)
    canvas.setStrokeGray(0)
    u = side / 10
    if mark == "exclamation":
        canvas.rect(-0.45 * u, -0.6 * u, 0.9 * u, 2.7 * u, stroke=0, fill=1)
        canvas.circle(0, -1.7 * u, 0.6 * u, stroke=0, fill=1)
    elif mark == "health":
        canvas.circle(0, 1.6 * u, 0.8 * u, stroke=0, fill=1)
        body = canvas.beginPath()
        body.moveTo(-1.6 * u, 0.6 * u)
        for px, py in ((1.6, 0.6), (1.2, -2.1), (-1.2, -2.1)):
            body.lineTo(px * u, py * u)
        body.close()
        canvas.drawPath(body, stroke=0, fill=1)
        canvas.setFillGray(1)
        star = canvas.beginPath()
        star.moveTo(0, 0.4 * u)
        for px, py in ((0.3, -0.4), (1.0, -0.7), (0.3, -1.0), (0, -1.8), (-0.3, -1.0), (-1.0, -0.7), (-0.3, -0.4)):
            star.lineTo(px * u, py * u)
        star.close()
        canvas.drawPath(star, stroke=0, fill=1)
    elif mark == "environment":
        canvas.setLineWidth(0.45 * u)
        canvas.line(-2.4 * u, -1.4 * u, 2.0 * u, -1.4 * u)
        canvas.line(-1.2 * u, -1.4 * u, -1.2 * u, 1.4 * u)
        canvas.line(-1.2 * u, 0.2 * u, -2.0 * u, 1.0 * u)
        canvas.line(-1.2 * u, 0.5 * u, -0.4 * u, 1.3 * u)
        canvas.ellipse(0.3 * u, -1.1 * u, 1.9 * u, -0.3 * u, stroke=0, fill=1)
    else:
        flame = canvas.beginPath()
        flame.moveTo(0, -1.8 * u)
        flame.curveTo(-2.2 * u, -1.2 * u, -1.2 * u, 0.8 * u, -0.2 * u, 2.2 * u)
        flame.curveTo(-0.1 * u, 1.0 * u, 1.8 * u, 0.4 * u, 1.4 * u, -0.8 * u)
        flame.curveTo(1.2 * u, -1.6 * u, 0.6 * u, -1.8 * u, 0, -1.8 * u)
        canvas.drawPath(flame, stroke=0, fill=1)
    canvas.restoreState()
