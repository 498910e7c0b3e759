#pragma once

#include <QLabel>
#include <QMessageBox>

namespace buttonhole::app
{

/// The smaller text of a box, shown as it is. Qt takes what looks like markup for markup there,
/// whatever the box's own format is, and names and words out of files are in it.
inline void setPlainDetails(QMessageBox &box, const QString &text)
{
    box.setInformativeText(QStringLiteral(" ")); // makes the label
    if (auto *label = box.findChild<QLabel *>(QStringLiteral("qt_msgbox_informativelabel")))
        label->setTextFormat(Qt::PlainText);
    box.setInformativeText(text);
}

} // namespace buttonhole::app
