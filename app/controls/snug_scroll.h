#pragma once

#include <QEvent>
#include <QScrollArea>

namespace buttonhole::app
{

/// A scroll area as tall as what is in it, as far as there is room; then it scrolls.
class SnugScroll : public QScrollArea
{
public:
    SnugScroll(QWidget *content, QWidget *parent) : QScrollArea(parent)
    {
        setWidget(content);
        setWidgetResizable(true);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
        setFocusPolicy(Qt::NoFocus);
        viewport()->setAutoFillBackground(false);
        content->setAutoFillBackground(false);
    }

    QSize sizeHint() const override
    {
        return widget()->sizeHint() + QSize(2 * frameWidth(), 2 * frameWidth());
    }
    QSize minimumSizeHint() const override { return {0, std::min(sizeHint().height(), 120)}; }

protected:
    bool eventFilter(QObject *watched, QEvent *event) override
    {
        if (watched == widget() && event->type() == QEvent::LayoutRequest)
            updateGeometry();
        return QScrollArea::eventFilter(watched, event);
    }
};

} // namespace buttonhole::app
