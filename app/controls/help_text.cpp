#include "controls/help_text.h"

#include <QPainter>
#include <QTextLayout>

namespace buttonhole::app
{

void HelpText::paintEvent(QPaintEvent *)
{
    const int most = std::max(1, height() / fontMetrics().height());
    QTextLayout layout(text(), font());
    QStringList lines;
    layout.beginLayout();
    for (QTextLine line = layout.createLine(); line.isValid(); line = layout.createLine()) {
        line.setLineWidth(width());
        const QString rest = text().mid(line.textStart());
        if (lines.size() + 1 == most) {
            lines.append(fontMetrics().elidedText(rest, Qt::ElideRight, width()));
            break;
        }
        lines.append(rest.left(line.textLength()));
    }
    layout.endLayout();
    QPainter painter(this);
    painter.setPen(palette().color(foregroundRole()));
    painter.drawText(rect(), Qt::AlignVCenter | Qt::AlignLeft, lines.join(QLatin1Char('\n')));
}

} // namespace buttonhole::app
