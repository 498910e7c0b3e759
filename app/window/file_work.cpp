#include "window/file_work.h"

#include "window/answer_button.h"

#include <QFileInfo>
#include <QStandardPaths>

namespace buttonhole::app
{

QString FileWork::folderForDialogs() const
{
    return settings().lastFolder.isEmpty()
               ? QStandardPaths::writableLocation(QStandardPaths::PicturesLocation)
               : settings().lastFolder;
}

void FileWork::noteRecent(const QString &path)
{
    settings().noteRecent(QFileInfo(path).absoluteFilePath());
    Q_EMIT recentChanged();
}

void FileWork::unlessInTheWay(const QString &asked, const QString &path,
                              const std::function<void()> &then,
                              const std::function<void()> &otherwise)
{
    if (path == asked || !QFileInfo::exists(path)) {
        then();
        return;
    }
    auto *box =
        newBox(window(), "in-the-way", tr("%1 is there already.").arg(QFileInfo(path).fileName()));
    auto *replaces = addAnswer(*box, tr("Replace it"), QMessageBox::DestructiveRole, "replace");
    auto *stays = addAnswer(*box, tr("Not now"), QMessageBox::RejectRole, "stay");
    box->setDefaultButton(stays);
    box->setEscapeButton(stays);
    connect(replaces, &QPushButton::clicked, this, then);
    if (otherwise)
        connect(stays, &QPushButton::clicked, this, otherwise);
    box->open();
}

} // namespace buttonhole::app
