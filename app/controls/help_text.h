#pragma once

#include <QLabel>
#include <QPainter>
#include <QTextLayout>

namespace buttonhole::app
{

/// Words that wrap in the room they are given and ask for none of their own; what finds none is cut
/// off with an ellipsis. A plain label that wraps makes every layout of the window set its text
/// again, for each height that is tried.
class HelpText : public QLabel
{
public:
    explicit HelpText(const QString &text, QWidget *parent = nullptr) : QLabel(text, parent)
    {
        setForegroundRole(QPalette::PlaceholderText);
        setWordWrap(true);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
    }
    bool hasHeightForWidth() const override { return false; }
    QSize sizeHint() const override { return {}; }
    QSize minimumSizeHint() const override { return {}; }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QTextLayout layout(text(), font());
        const int lineHeight = fontMetrics().height();
        const int most = std::max(1, height() / lineHeight);
        QStringList lines;
        layout.beginLayout();
        for (QTextLine line = layout.createLine(); line.isValid(); line = layout.createLine()) {
            line.setLineWidth(width());
            const QString rest = text().mid(line.textStart());
            const bool isLast = lines.size() + 1 == most;
            lines.append(isLast ? fontMetrics().elidedText(rest, Qt::ElideRight, width())
                                : rest.left(line.textLength()));
            if (isLast)
                break;
        }
        layout.endLayout();
        QPainter painter(this);
        painter.setPen(palette().color(foregroundRole()));
        painter.drawText(rect(), Qt::AlignVCenter | Qt::AlignLeft, lines.join(QLatin1Char('\n')));
    }
};

} // namespace buttonhole::app
