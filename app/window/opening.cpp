#include "window/opening.h"

#include "controls/file_dialog.h"
#include "controls/plain_details.h"
#include "window/answer_button.h"
#include "window/left_dialog.h"
#include "window/window_state.h"

#include <QMessageBox>
#include <QStandardPaths>

namespace buttonhole::app
{

/// What a load job brings.
struct Opening::Loaded {
    std::shared_ptr<const PhotoLevels> levels;
    double tintHueDeg = 0;
    std::optional<Container> container;
    std::shared_ptr<const WorkLock> lock; ///< of the container; null: another window has it
    std::vector<std::string> notes;
};

namespace
{

std::string unpackFolder()
{
    return (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) +
            QStringLiteral("/photos"))
        .toStdString();
}

/// For file dialogs.
QString photoPatterns()
{
    return QStringLiteral("*.jpg *.jpeg *.png *.tif *.tiff *.webp *.heic *.heif *.avif *.dng "
                          "*.cr2 *.cr3 *.nef *.arw *.raf *.orf *.rw2 *.pef *.srw");
}

} // namespace

/// What its user calls a file: copies of unsaved work have names of their own.
QString Opening::nameOf(const QString &path) const
{
    return m_takingUp ? m_takingUp->name() : QFileInfo(path).fileName();
}

void Opening::choose()
{
    auto *dialog =
        newFileDialog(window(), tr("Open"), folderForDialogs(),
                      tr("Photos, work and jobs (%1 *.buttonhole *.buttonhole-job);;All files (*)")
                          .arg(photoPatterns()));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFiles);
    connect(dialog, &QFileDialog::filesSelected, this, &Opening::openJob);
    dialog->open();
}

void Opening::openJob(const QStringList &paths)
{
    struct Given {
        Result<PhotoJob> job = PhotoJob();
        bool isWhole = false; ///< a folder, or a job that was saved
    };
    jobs().start(
        {},
        [paths](const Run &) {
            Given out;
            std::vector<std::string> all;
            for (const QString &path : paths) {
                all.push_back(path.toStdString());
                out.isWhole =
                    out.isWhole || QFileInfo(path).isDir() || isJobPath(path.toStdString());
            }
            out.job = jobOf(all);
            return out;
        },
        [this](const Given &given) {
            if (given.job)
                Q_EMIT jobGiven(*given.job, given.isWhole);
            else
                Q_EMIT failed(given.job.error());
        });
}

void Opening::setJob(const QStringList &photos)
{
    m_job = photos;
}

void Opening::openPath(const QString &path)
{
    m_saving.afterUnsaved([this, path] { load(path, {}); });
}

void Opening::load(const QString &path, const QString &photoPath)
{
    m_loading.request_stop(); // only the last one asked for is wanted
    if (m_takingUp && m_takingUp->copy != path) {
        m_takingUp.reset();
        m_safeCopy.leave();
    }
    m_path = path;
    Q_EMIT pathChanged();
    if (!isContainerPath(path.toStdString()))
        startGlance(path);
    const QString savedAs = m_takingUp ? m_takingUp->savedAs : path;
    m_loading = jobs().start(
        tr("Opening %1…").arg(nameOf(path)),
        [file = path.toStdString(), photo = photoPath.toStdString(),
         savedAs = savedAs.toStdString(), own = session().lock()](const Run &run) {
            return loadAll(file, photo, savedAs, own, run);
        },
        [this, path](Result<Loaded> loaded) { receive(path, std::move(loaded)); });
}

/// Where the photo of a work is, found or pointed to.
Result<std::string> Opening::findPhotoOf(const Container &container, const std::string &file,
                                         const std::string &pointedTo, const std::string &savedAs,
                                         std::vector<std::string> &notes, const Run &run)
{
    if (!pointedTo.empty()) {
        if (!isPhotoOf(container.photo, pointedTo, run))
            notes.push_back(tr("%1 is not the photo that this work was made on: masks may not fit.")
                                .arg(QString::fromStdString(pointedTo))
                                .toStdString());
        return pointedTo;
    }
    auto found = findPhoto(container.photo, file, unpackFolder(), run);
    if (!found && found.error().kind == ErrorKind::PhotoMissing && savedAs != file)
        if (const auto own = loadContainer(savedAs, run); // a copy: the work itself may hold it
            own && own->photo.sha256 == container.photo.sha256)
            found = findPhoto(own->photo, savedAs, unpackFolder(), run);
    if (!found)
        return found.error();
    if (!found->note.empty())
        notes.push_back(found->note);
    return found->path;
}

/// On a worker. @param savedAs the work's own file, where `file` is a copy of it
/// @param own the lock that this window holds already
Result<Opening::Loaded> Opening::loadAll(const std::string &file, const std::string &photo,
                                         const std::string &savedAs,
                                         const std::shared_ptr<const WorkLock> &own, const Run &run)
{
    Loaded out;
    std::string photoFile = file;
    if (isContainerPath(file)) {
        if (!savedAs.empty())
            out.lock = own && own->isOf(savedAs) ? own : WorkLock::take(savedAs);
        auto container = loadContainer(file, run);
        if (!container)
            return container.error();
        out.notes = container->notes;
        auto found = findPhotoOf(*container, file, photo, savedAs, out.notes, run);
        if (!found)
            return found.error();
        photoFile = *found;
        if (!out.lock && !savedAs.empty())
            out.notes.insert(out.notes.begin(),
                             tr("This work is open in another window, too: here it can be saved "
                                "under another name.")
                                 .toStdString());
        out.container = std::move(*container);
    }
    auto levels = PhotoLevels::load(photoFile, run);
    if (!levels)
        return levels.error();
    const Photo &photograph = (*levels)->photo();
    if (out.container && (out.container->photo.width != photograph.width ||
                          out.container->photo.height != photograph.height))
        return Error{ErrorKind::PhotoMissing, photoFile, "this file has another size in pixels"};
    out.notes.insert(out.notes.end(), photograph.notes.begin(), photograph.notes.end());
    out.levels = std::move(*levels);
    out.tintHueDeg = findRarestHueDeg(*out.levels);
    return out;
}

/// The whole photo takes its time; a small picture of it is there in a third of that.
void Opening::startGlance(const QString &path)
{
    struct Shown {
        QImage image;
        QSize photo;
    };
    m_glancing.request_stop();
    m_glancing = jobs().start(
        {},
        [file = path.toStdString(), output = m_canvas.output()](const Run &run) {
            constexpr int kLongEdge = 640;
            auto glance = loadGlance(file, kLongEdge, run);
            if (!glance)
                return Shown{};
            const auto photo = std::make_shared<const Photo>(std::move(glance->photo));
            const Scene scene{
                PhotoLevels::makeFlat(photo), std::make_shared<const Take>(), output, {}};
            return Shown{renderImage(scene, View::Result, 0, scene.map().rect()),
                         {glance->fullWidth, glance->fullHeight}};
        },
        [this, path](const Shown &shown) {
            if (path == m_path && !shown.image.isNull())
                m_canvas.setGlance(shown.image, shown.photo);
        });
}

void Opening::receive(const QString &path, Result<Loaded> loaded)
{
    if (path != m_path)
        return;
    m_path.clear();
    m_glancing.request_stop();
    if (!loaded) {
        m_canvas.setGlance({}, {});
        Q_EMIT pathChanged();
        if (m_takingUp && loaded.error().kind != ErrorKind::PhotoMissing) {
            m_takingUp.reset();
            m_safeCopy.leave();
        }
        if (loaded.error().kind == ErrorKind::PhotoMissing)
            askForMissingPhoto(path, loaded.error());
        else if (loaded.error().kind != ErrorKind::Cancelled)
            Q_EMIT failed(loaded.error());
        Q_EMIT opened(false);
        return;
    }
    showLoaded(path, std::move(*loaded));
    Q_EMIT opened(true);
}

void Opening::showLoaded(const QString &path, Loaded loaded)
{
    const auto left = std::exchange(m_takingUp, std::nullopt);
    const bool isLeft = left.has_value();
    const bool isContainer = loaded.container.has_value();
    const QString file = isLeft ? left->savedAs : isContainer ? path : QString();
    if (isLeft) { // saved over only if it still stands as it did when the copy's window last saw it
        loaded.container->ownPath = left->savedAs.toStdString();
        loaded.container->ownStamp = left->savedStamp;
    }
    session().open(loaded.levels, loaded.tintHueDeg, std::move(loaded.container), file,
                   std::move(loaded.lock));
    m_canvas.setSeen({});
    if (isContainer)
        restoreWindow(session().windowJson(), session(), m_canvas);
    if (isLeft) {
        m_safeCopy.adopt(left->copy);
        session().markUnsaved();
    }
    const QString absolute = QFileInfo(!isLeft          ? path
                                       : file.isEmpty() ? session().photoPath()
                                                        : file)
                                 .absoluteFilePath();
    settings().lastFolder = QFileInfo(absolute).absolutePath();
    noteRecent(absolute);
    m_canvas.setFocus();
    if (!loaded.notes.empty())
        Q_EMIT warned(QString::fromStdString(loaded.notes.front()));
}

void Opening::offerLeftWork(bool isAskedFor)
{
    m_safeCopy.lookForLeft([this, isAskedFor](const QList<LeftWork> &left) {
        if (!left.isEmpty())
            askAboutLeft(left);
        else if (isAskedFor)
            Q_EMIT said(tr("All work is saved: nothing was left behind."));
    });
}

void Opening::askAboutLeft(const QList<LeftWork> &left)
{
    auto *dialog = new LeftDialog(left, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &LeftDialog::takeAsked, this, &Opening::takeUp);
    connect(dialog, &LeftDialog::throwAsked, this,
            [this](const LeftWork &work) { m_safeCopy.throwAway(work.copy); });
    connect(dialog, &LeftDialog::rejected, this, [this] { m_safeCopy.leave(); });
    dialog->open();
}

void Opening::takeUp(const LeftWork &left)
{
    m_saving.afterUnsaved([this, left] {
        m_takingUp = left;
        load(left.copy, {});
    });
}

void Opening::askForMissingPhoto(const QString &path, const Error &error)
{
    auto *box = newBox(window(), "missing-photo",
                       tr("The photo of %1 is not at its place.").arg(nameOf(path)));
    setPlainDetails(*box, QString::fromStdString(sentence(error)));
    QPushButton *point = box->addButton(tr("Point to it…"), QMessageBox::AcceptRole);
    box->addButton(tr("Not now"), QMessageBox::RejectRole);
    connect(point, &QPushButton::clicked, this, [this, path] {
        auto *dialog = newFileDialog(window(), tr("Where is the photo?"), folderForDialogs(),
                                     tr("Photos (%1)").arg(photoPatterns()));
        connect(dialog, &QFileDialog::fileSelected, this,
                [this, path](const QString &photo) { load(path, photo); });
        dialog->open();
    });
    box->open();
}

void Opening::openNext(int delta)
{
    if (m_job.size() < 2)
        return;
    const QString now = session().photoPath();
    int at = -1;
    for (int i = 0; i < m_job.size(); ++i)
        if (QFileInfo(m_job[i]) == QFileInfo(now) ||
            QFileInfo(m_job[i]) == QFileInfo(session().containerPath()))
            at = i;
    if (at < 0) // another photo than the job's
        return;
    const QString next = m_job[int((at + delta + m_job.size()) % m_job.size())];
    openPath(QString::fromStdString(toOpen(next.toStdString())));
}

} // namespace buttonhole::app
