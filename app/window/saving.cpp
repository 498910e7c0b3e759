#include "window/saving.h"

#include "controls/file_dialog.h"
#include "controls/plain_details.h"
#include "export/small_picture.h"
#include "window/answer_button.h"

#include <QFileInfo>

namespace buttonhole::app
{

void Saving::save()
{
    if (session().containerPath().isEmpty())
        chooseAndSave();
    else
        saveTo(session().containerPath());
}

void Saving::chooseAndSave()
{
    auto *dialog =
        newFileDialog(window(), tr("Save as"), folderForDialogs(), tr("Work (*.buttonhole)"));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(QStringLiteral("buttonhole"));
    dialog->selectFile(QFileInfo(session().photoPath()).completeBaseName() +
                       QStringLiteral(".buttonhole"));
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString &chosen) {
        // The dialog takes "v1.2" for a name with an ending of its own.
        const QString path =
            isContainerPath(chosen.toStdString()) ? chosen : chosen + QStringLiteral(".buttonhole");
        unlessInTheWay(
            chosen, path, [this, path] { saveTo(path); }, [this] { m_then = nullptr; });
    });
    connect(dialog, &QFileDialog::rejected, this, [this] { m_then = nullptr; });
    dialog->open();
}

void Saving::saveTo(const QString &path)
{
    if (!session().hasPhoto())
        return;
    session().setWindowJson(m_windowJson());
    Order order{path, session().snapshotForSaving(), session().levels(), {}};
    order.options.packPhoto = session().packsPhoto();
    order.options.photoStamp = session().levels()->photo().stamp;
    order.options.lock = session().lock();
    if (m_isBusy) // one after the other; only the last one asked for is wanted
        m_next = std::move(order);
    else
        start(std::move(order));
}

void Saving::start(Order order)
{
    m_isBusy = true;
    const QString path = order.path;
    jobs().start(
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
        [this, path](const Result<Session::Snapshot> &written) { receive(path, written); });
}

void Saving::receive(const QString &path, const Result<Session::Snapshot> &written)
{
    m_isBusy = false;
    const bool isConflict = !written && written.error().kind == ErrorKind::Conflict;
    if (written) {
        session().noteSaved(path, *written);
        noteRecent(path);
        const auto &notes = written->container.notes;
        if (notes.empty())
            Q_EMIT said(tr("Saved %1").arg(QFileInfo(path).fileName()));
        else
            Q_EMIT warned(tr("Saved, but: %1").arg(QString::fromStdString(notes.front())));
    } else if (isConflict) {
        askAboutConflict(path, written.error());
    } else if (written.error().kind != ErrorKind::Cancelled) {
        Q_EMIT failed(written.error());
    }
    Q_EMIT saved(written.has_value());
    if (auto next = std::exchange(m_next, std::nullopt)) {
        // Of the same work it was asked for before that was on the disk.
        if (written && next->snapshot.documentId == written->documentId) {
            next->snapshot.container.ownPath = written->container.ownPath;
            next->snapshot.container.ownStamp = written->container.ownStamp;
            next->options.lock = session().lock();
        }
        if (!isConflict) {
            start(std::move(*next));
            return;
        }
    }
    if (isConflict) // it goes on once that is answered
        return;
    if (const auto then = std::exchange(m_then, nullptr); then && written && !session().isUnsaved())
        then();
}

/// Two of a work: both stay, whatever is answered.
void Saving::askAboutConflict(const QString &path, const Error &error)
{
    const QString beside = QString::fromStdString(freeNameBeside(path.toStdString()));
    const QString name = QFileInfo(path).fileName();
    const QString besideName = QFileInfo(beside).fileName();
    auto *box =
        newBox(window(), "conflict",
               tr("%1 is not saved yet: %2.").arg(name, QString::fromStdString(error.detail)));
    setPlainDetails(*box, tr("Both can be kept: one of them as %1.").arg(besideName));
    auto *mine =
        addAnswer(*box, tr("Save mine as %1").arg(besideName), QMessageBox::AcceptRole, "beside");
    connect(mine, &QPushButton::clicked, this, [this, beside] { saveTo(beside); });
    if (WorkLock::take(path.toStdString()) ||
        (session().lock() && session().lock()->isOf(path.toStdString()))) {
        auto *theirs = addAnswer(*box, tr("Rename the other to %1").arg(besideName),
                                 QMessageBox::AcceptRole, "rename");
        connect(theirs, &QPushButton::clicked, this, [this, path, beside] {
            if (!QFile::rename(path, beside))
                Q_EMIT failed(
                    {ErrorKind::NoPermission, path.toStdString(), "it cannot be renamed"});
            else
                saveTo(path);
        });
    }
    auto *stays = addAnswer(*box, tr("Not now"), QMessageBox::RejectRole, "stay");
    connect(stays, &QPushButton::clicked, this, [this] { m_then = nullptr; });
    box->setDefaultButton(mine);
    box->setEscapeButton(stays);
    box->open();
}

void Saving::afterUnsaved(const std::function<void()> &then)
{
    if (!session().isUnsaved()) {
        then();
        return;
    }
    auto *box =
        newBox(window(), "unsaved",
               tr("The work on %1 is not saved.")
                   .arg(QFileInfo(session().containerPath().isEmpty() ? session().photoPath()
                                                                      : session().containerPath())
                            .fileName()));
    auto *saves = addAnswer(*box, tr("Save it"), QMessageBox::AcceptRole, "save");
    auto *throws = addAnswer(*box, tr("Throw it away"), QMessageBox::DestructiveRole, "throw");
    auto *stays = addAnswer(*box, tr("Go on working"), QMessageBox::RejectRole, "stay");
    box->setDefaultButton(saves);
    box->setEscapeButton(stays);
    connect(saves, &QPushButton::clicked, this, [this, then] {
        m_then = then;
        save();
    });
    connect(throws, &QPushButton::clicked, this, then);
    box->open();
}

} // namespace buttonhole::app
