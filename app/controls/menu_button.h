#pragma once

#include <QMenu>
#include <QToolButton>

namespace buttonhole::app
{

/// A button in the accent's colour, by whose name tests find it.
inline QToolButton *makeAccentButton(const QString &id, const QString &text, const QString &help,
                                     QWidget *parent)
{
    auto *button = new QToolButton(parent);
    button->setObjectName(id);
    button->setText(text);
    button->setToolTip(help);
    button->setProperty("accent", true);
    return button;
}

/// A click opens the menu below the button.
inline void openBelow(QToolButton *button, QMenu *menu)
{
    QObject::connect(button, &QToolButton::clicked, menu, [button, menu] {
        menu->popup(button->mapToGlobal(QPoint(0, button->height())));
    });
}

} // namespace buttonhole::app
