#pragma once

#include <QMessageBox>
#include <QPushButton>

namespace buttonhole::app
{

/// A box that asks or tells something, deletes itself and shows its words as they are: names out of
/// files are in them. Tests know it by its name.
inline QMessageBox *newBox(QWidget *parent, const char *name, const QString &text)
{
    auto *box = new QMessageBox(parent);
    box->setObjectName(QLatin1String(name));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setTextFormat(Qt::PlainText);
    box->setText(text);
    return box;
}

/// A button of a box that asks; tests know it by its name.
inline QPushButton *addAnswer(QMessageBox &box, const QString &text, QMessageBox::ButtonRole role,
                              const char *name)
{
    QPushButton *button = box.addButton(text, role);
    button->setObjectName(QLatin1String(name));
    return button;
}

} // namespace buttonhole::app
