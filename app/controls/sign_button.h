#pragma once

#include <QToolButton>

namespace buttonhole::app
{

/// A button with words on it, as wide as its row lets it be.
/// @param id its object name
inline QToolButton *makeSignButton(const QString &name, const char *id, const QString &help,
                                   QWidget *parent)
{
    auto *button = new QToolButton(parent);
    button->setObjectName(QLatin1String(id));
    button->setText(name);
    button->setToolTip(help);
    button->setProperty("sign", true);
    button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    return button;
}

} // namespace buttonhole::app
