#pragma once

#include "settings/settings.h"

#include <QColor>
#include <QFont>

class QApplication;
class QPainter;
class QRectF;

namespace buttonhole::app
{

/// The felt: every colour and measure of the window in one place.
struct Felt {
    QColor felt;      ///< columns
    QColor card;      ///< selected line, fields
    QColor ink;       ///< text
    QColor softInk;   ///< second-rank text, still 4.5:1 on felt and card
    QColor line;      ///< dividers, tracks
    QColor thread;    ///< the accent: what is active
    QColor threadInk; ///< accent for text: 4.5:1 on felt
    QColor bar;       ///< status row
    QColor pill;      ///< the chosen tool
    QColor onPill;
};

const Felt &felt();
QColor surroundColour(Surround surround);

/// Sets palette, font and style sheet of the whole application.
void applyTheme(Theme theme);

QFont bodyFont();
QFont titleFont();
QFont smallFont();

/// A dashed stitch line, the divider and focus ring of this window.
void drawStitchLine(QPainter &painter, const QPointF &from, const QPointF &to);
void drawFocusStitch(QPainter &painter, const QRectF &around);

/// A box drawn over the picture: light thread on a dark shadow, seen on any colour.
void drawThreadBox(QPainter &painter, const QRectF &box, double radius);

} // namespace buttonhole::app
