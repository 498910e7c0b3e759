#pragma once

#include <QFileDialog>
#include <QHeaderView>
#include <QTreeView>

namespace buttonhole::app
{

/// A file dialog that deletes itself, wide enough for names and dates. @param filter as Qt's
inline QFileDialog *newFileDialog(QWidget *parent, const QString &title, const QString &folder,
                                  const QString &filter)
{
    auto *dialog = new QFileDialog(parent, title, folder, filter);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setOption(QFileDialog::HideNameFilterDetails);
    dialog->resize(860, 520);
    if (const auto *tree = dialog->findChild<QTreeView *>()) {
        constexpr int kWidths[] = {320, 90, 110, 170};
        for (int column = 0; column < int(std::size(kWidths)); ++column)
            tree->header()->resizeSection(column, kWidths[column]);
    }
    return dialog;
}

} // namespace buttonhole::app
