#pragma once

#include "controls/plain_tip.h"

#include <QLabel>
#include <QPainter>

namespace buttonhole::app
{

/// One line of words that is cut off with an ellipsis where there is no room; the tooltip has all.
/// A plain label would make the window wider instead.
class ElidedText : public QLabel
{
public:
    using QLabel::QLabel;

    QSize minimumSizeHint() const override { return {0, QLabel::minimumSizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent *) override
    {
        const QString seen = fontMetrics().elidedText(text(), Qt::ElideRight, width());
        setToolTip(seen == text() ? QString() : plainTip(text()));
        QPainter(this).drawText(rect(), int(alignment()), seen);
    }
};

} // namespace buttonhole::app
