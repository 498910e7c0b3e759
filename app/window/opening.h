#pragma once

#include "canvas/canvas.h"
#include "commands/safe_copy.h"
#include "job/photo_job.h"
#include "window/saving.h"

namespace buttonhole::app
{

/// The way in: photos and work are read in the background and shown when ready.
class Opening : public FileWork
{
    Q_OBJECT
public:
    Opening(const Of &of, Canvas &canvas, SafeCopy &safeCopy, Saving &saving)
        : FileWork(of), m_canvas(canvas), m_safeCopy(safeCopy), m_saving(saving)
    {
    }

    /// What is being opened; empty: nothing.
    const QString &path() const { return m_path; }
    /// By a dialog.
    void choose();
    /// Looks in the background which photos and works these are: see jobGiven().
    void openJob(const QStringList &paths);
    void openNext(int delta);
    /// What the next ones are from now on.
    void setJob(const QStringList &photos);
    /// Asks about unsaved work first.
    void openPath(const QString &path);
    /// Offers work that other windows left when they did not close as they should.
    /// @param isAskedFor says so where there is none
    void offerLeftWork(bool isAskedFor = false);

Q_SIGNALS:
    void opened(bool succeeded);
    /// What openJob() found. @param isFolder it is to be looked at as a whole
    /// @param isWhole a folder, or a job that was saved
    void jobGiven(const buttonhole::PhotoJob &job, bool isWhole);
    void pathChanged();

private:
    struct Loaded;
    void load(const QString &path, const QString &photoPath);
    void startGlance(const QString &path);
    static Result<Loaded> loadAll(const std::string &file, const std::string &photo,
                                  const std::string &savedAs,
                                  const std::shared_ptr<const WorkLock> &own, const Run &run);
    static Result<std::string> findPhotoOf(const Container &container, const std::string &file,
                                           const std::string &pointedTo, const std::string &savedAs,
                                           std::vector<std::string> &notes, const Run &run);
    void receive(const QString &path, Result<Loaded> loaded);
    void showLoaded(const QString &path, Loaded loaded);
    QString nameOf(const QString &path) const;
    void askAboutLeft(const QList<LeftWork> &left);
    void takeUp(const LeftWork &left);
    void askForMissingPhoto(const QString &path, const Error &error);

    Canvas &m_canvas;
    SafeCopy &m_safeCopy;
    Saving &m_saving;
    QStringList m_job; ///< the sheet's
    QString m_path;
    std::optional<LeftWork> m_takingUp;
    std::stop_source m_loading;
    std::stop_source m_glancing;
};

} // namespace buttonhole::app
