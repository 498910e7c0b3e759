// The main window's saving: where to, what stands there already, and what is asked on the way out.
#include "window/main_window.h"

#include "window/answer_button.h"
#include "window/file_dialog.h"
#include "window/status_row.h"

#include <QCloseEvent>
#include <QFileInfo>

namespace buttonhole::app
{

void MainWindow::save()
{
    if (m_session.containerPath().isEmpty())
        chooseAndSave();
    else
        saveTo(m_session.containerPath());
}

void MainWindow::chooseAndSave()
{
    auto *dialog =
        newFileDialog(this, tr("Save as"), folderForDialogs(), tr("Work (*.buttonhole)"));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(QStringLiteral("buttonhole"));
    dialog->selectFile(QFileInfo(m_session.photoPath()).completeBaseName() +
                       QStringLiteral(".buttonhole"));
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString &chosen) {
        // The dialog takes "v1.2" for a name with an ending of its own.
        const QString path =
            isContainerPath(chosen.toStdString()) ? chosen : chosen + QStringLiteral(".buttonhole");
        unlessInTheWay(chosen, path, [this, path] { saveTo(path); });
    });
    connect(dialog, &QFileDialog::rejected, this, [this] { m_afterSave = nullptr; });
    dialog->open();
}

/// The dialog asked about the name as it was typed; with its ending it may be another file's.
void MainWindow::unlessInTheWay(const QString &asked, const QString &path,
                                const std::function<void()> &then)
{
    if (path == asked || !QFileInfo::exists(path)) {
        then();
        return;
    }
    auto *box =
        newBox(this, "in-the-way", tr("%1 is there already.").arg(QFileInfo(path).fileName()));
    auto *replaces = addAnswer(*box, tr("Replace it"), QMessageBox::DestructiveRole, "replace");
    auto *stays = addAnswer(*box, tr("Not now"), QMessageBox::RejectRole, "stay");
    box->setDefaultButton(stays);
    box->setEscapeButton(stays);
    connect(replaces, &QPushButton::clicked, this, then);
    connect(stays, &QPushButton::clicked, this, [this] { m_afterSave = nullptr; });
    box->open();
}

void MainWindow::saveTo(const QString &path)
{
    if (!m_session.hasPhoto())
        return;
    m_session.setWindowJson(windowJson());
    SaveOrder order{path, m_session.snapshotForSaving(), m_session.levels(), {}};
    order.options.packPhoto = m_session.packsPhoto();
    order.options.photoStamp = m_session.levels()->photo().stamp;
    order.options.lock = m_session.lock();
    if (m_saving) // one after the other; only the last one asked for is wanted
        m_nextSave = std::move(order);
    else
        startSaving(std::move(order));
}

void MainWindow::startSaving(SaveOrder order)
{
    m_saving = true;
    const QString path = order.path;
    m_jobs.start(
        tr("Saving %1…").arg(QFileInfo(path).fileName()),
        [order = std::move(order)](const Run &run) mutable -> Result<Session::Snapshot> {
            Container &container = order.snapshot.container;
            if (auto preview = makePreviewJpeg(*order.levels, container.work.take(), 1024))
                container.previewJpeg = std::move(*preview);
            if (const auto written = saveContainer(container, order.path.toStdString(),
                                                   order.levels->photo().path, order.options, run);
                !written)
                return written.error();
            return std::move(order.snapshot);
        },
        [this, path](const Result<Session::Snapshot> &written) { receiveSaved(path, written); });
}

void MainWindow::receiveSaved(const QString &path, const Result<Session::Snapshot> &written)
{
    m_saving = false;
    const bool isConflict = !written && written.error().kind == ErrorKind::Conflict;
    if (written) {
        m_session.noteSaved(path, *written);
        m_settings.noteRecent(QFileInfo(path).absoluteFilePath());
        refreshRecent();
        constexpr int kLong = 60000;
        const auto &notes = written->container.notes;
        if (notes.empty())
            m_status->say(tr("Saved %1").arg(QFileInfo(path).fileName()));
        else
            m_status->say(tr("Saved, but: %1").arg(QString::fromStdString(notes.front())), kLong);
    } else if (isConflict) {
        askAboutConflict(path, written.error());
    } else if (written.error().kind != ErrorKind::Cancelled) {
        showError(written.error());
    }
    Q_EMIT saved(written.has_value());
    if (auto next = std::exchange(m_nextSave, std::nullopt)) {
        // Of the same work it was asked for before that was on the disk.
        if (written && next->snapshot.documentId == written->documentId) {
            next->snapshot.container.ownPath = written->container.ownPath;
            next->snapshot.container.ownStamp = written->container.ownStamp;
            next->options.lock = m_session.lock();
        }
        if (!isConflict) {
            startSaving(std::move(*next));
            return;
        }
    }
    if (isConflict) // it goes on once that is answered
        return;
    if (const auto then = std::exchange(m_afterSave, nullptr);
        then && written && !m_session.isUnsaved())
        then();
}

/// Two of a work: both stay, whatever is answered.
void MainWindow::askAboutConflict(const QString &path, const Error &error)
{
    const QString beside = QString::fromStdString(freeNameBeside(path.toStdString()));
    const QString name = QFileInfo(path).fileName();
    const QString besideName = QFileInfo(beside).fileName();
    auto *box =
        newBox(this, "conflict",
               tr("%1 is not saved yet: %2.").arg(name, QString::fromStdString(error.detail)));
    box->setInformativeText(tr("Both can be kept: one of them as %1.").arg(besideName));
    auto *mine =
        addAnswer(*box, tr("Save mine as %1").arg(besideName), QMessageBox::AcceptRole, "beside");
    connect(mine, &QPushButton::clicked, this, [this, beside] { saveTo(beside); });
    if (WorkLock::take(path.toStdString()) ||
        (m_session.lock() && m_session.lock()->isOf(path.toStdString()))) {
        auto *theirs = addAnswer(*box, tr("Rename the other to %1").arg(besideName),
                                 QMessageBox::AcceptRole, "rename");
        connect(theirs, &QPushButton::clicked, this, [this, path, beside] {
            if (!QFile::rename(path, beside))
                showError({ErrorKind::NoPermission, path.toStdString(), "it cannot be renamed"});
            else
                saveTo(path);
        });
    }
    auto *stays = addAnswer(*box, tr("Not now"), QMessageBox::RejectRole, "stay");
    connect(stays, &QPushButton::clicked, this, [this] { m_afterSave = nullptr; });
    box->setDefaultButton(mine);
    box->setEscapeButton(stays);
    box->open();
}

void MainWindow::afterUnsaved(const std::function<void()> &then)
{
    if (!m_session.isUnsaved()) {
        then();
        return;
    }
    auto *box =
        newBox(this, "unsaved",
               tr("The work on %1 is not saved.")
                   .arg(QFileInfo(m_session.containerPath().isEmpty() ? m_session.photoPath()
                                                                      : m_session.containerPath())
                            .fileName()));
    auto *saves = addAnswer(*box, tr("Save it"), QMessageBox::AcceptRole, "save");
    auto *throws = addAnswer(*box, tr("Throw it away"), QMessageBox::DestructiveRole, "throw");
    auto *stays = addAnswer(*box, tr("Go on working"), QMessageBox::RejectRole, "stay");
    box->setDefaultButton(saves);
    box->setEscapeButton(stays);
    connect(saves, &QPushButton::clicked, this, [this, then] {
        m_afterSave = then;
        save();
    });
    connect(throws, &QPushButton::clicked, this, then);
    box->open();
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    if (m_closeAgreed || (!m_session.isUnsaved() && !m_saving)) {
        m_jobs.stopAll();
        event->accept();
        return;
    }
    event->ignore();
    const auto leave = [this] {
        m_closeAgreed = true;
        close();
    };
    if (m_saving) // close as soon as it is on the disk
        m_afterSave = leave;
    else
        afterUnsaved(leave);
}

void MainWindow::endNow()
{
    m_safeCopy.copyForGood();
    m_closeAgreed = true;
    close();
}

} // namespace buttonhole::app
