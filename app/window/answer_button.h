#pragma once

#include <QMessageBox>
#include <QPushButton>

namespace buttonhole::app
{

/// A button of a box that asks; tests know it by its name.
inline QPushButton *addAnswer(QMessageBox &box, const QString &text, QMessageBox::ButtonRole role,
                              const char *name)
{
    QPushButton *button = box.addButton(text, role);
    button->setObjectName(QLatin1String(name));
    return button;
}

} // namespace buttonhole::app
