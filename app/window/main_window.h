#pragma once

#include "canvas/canvas.h"
#include "commands/safe_copy.h"
#include "commands/session.h"
#include "jobs/jobs.h"
#include "settings/settings.h"
#include "tools/toolbox.h"
#include "window/actions.h"

#include <QKeyEvent>
#include <QMainWindow>
#include <QTimer>

class QLabel;
class QScrollArea;
class QToolButton;

namespace buttonhole::app
{

class CheckColumn;
class Details;
class GreyDetails;
class StatusRow;
class Ticket;
class StartPage;
class Tray;

/// The window: bench, canvas and tray, Check column, status row; and the ways in and out of files.
class MainWindow : public QMainWindow
{
    Q_OBJECT
public:
    /// @param unsavedFolder for copies of work that is not saved, see SafeCopy
    MainWindow(const QString &settingsFile, const QString &unsavedFolder);
    ~MainWindow() override;

    Session &session() { return m_session; }
    Canvas &canvas() { return *m_canvas; }
    Toolbox &toolbox() { return m_toolbox; }
    BrushTool &brush() { return m_toolbox.brush(); }
    Jobs &jobs() { return m_jobs; }
    const Actions &actions() const { return m_actions; }
    Ticket &ticket() { return *m_ticket; }
    CheckColumn &checkColumn() { return *m_check; }
    StatusRow &status() { return *m_status; }
    Settings &settings() { return m_settings; }
    SafeCopy &safeCopy() { return m_safeCopy; }

    /// Opens the first of these photos or .buttonhole files; the rest are the job's next ones.
    void openJob(const QStringList &paths);
    /// Asks about unsaved work first.
    void openPath(const QString &path);
    /// Offers work that other windows left when they did not close as they should.
    /// @param isAskedFor says so where there is none
    void offerLeftWork(bool isAskedFor = false);
    void saveTo(const QString &path);
    void exportTo(const QString &path, const ExportSettings &settings);
    void showError(const Error &error);
    /// The session ends: what is not saved is copied, and the window closes without asking.
    void endNow();

Q_SIGNALS:
    void opened(bool succeeded);
    void saved(bool succeeded);
    void exported(bool succeeded);

protected:
    void closeEvent(QCloseEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    // columns.cpp
    void buildColumns();
    QWidget *buildBench(QWidget *centre);
    QWidget *buildLines();
    QLayout *buildAdds();
    void buildDetails();
    QLayout *buildMiddle(QWidget *centre);

    // main_window.cpp
    void buildMenus();
    void connectActions();
    void connectViews();
    void connectKeeps();
    void applySettings();
    void refreshTitle();
    void refreshStart();
    void refreshHint();
    void refreshRecent();
    void refreshLine();
    void refreshSwatches();
    void setTheme(Theme theme);
    void showLineMenu(const QPoint &at);
    void setDisplayProfile(const QString &file);
    void askForMemory();
    void setMemory(int mb);
    void nextMaskView();
    /// Undo while a line is being drawn takes back that line.
    bool keepsUndo(const QKeyEvent &event) const
    {
        return m_toolbox.current().isUnfinished() && event.matches(QKeySequence::Undo);
    }
    void changeTip(float sizeFactor, float softnessStep);

    // opening.cpp
    static QString photoPatterns(); ///< for file dialogs
    void load(const QString &path, const QString &photoPath);
    void startGlance(const QString &path);
    struct Loaded;
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
    void showNextOfJob(int delta);
    /// Says so, once, where edges are meant to be soft and the edge net cannot be had.
    void checkSoftEdges();

    // pages.cpp
    void showKeys();
    void showGuide();
    void showPage(const char *name, const QString &title, const QString &text);

    // saving.cpp
    void save();
    void chooseAndSave();
    struct SaveOrder {
        QString path;
        Session::Snapshot snapshot;
        std::shared_ptr<const PhotoLevels> levels;
        SaveOptions options;
    };
    void startSaving(SaveOrder order);
    void receiveSaved(const QString &path, const Result<Session::Snapshot> &written);
    void askAboutConflict(const QString &path, const Error &error);
    void unlessInTheWay(const QString &asked, const QString &path,
                        const std::function<void()> &then);
    /// Runs `then` at once or after the user said what to do with unsaved work.
    void afterUnsaved(const std::function<void()> &then);

    // files.cpp
    void chooseAndOpen();
    void chooseAndExport();
    void chooseExportFile(const ExportSettings &settings);
    void showInfo();
    void showAbout();
    std::string windowJson() const;
    void restoreWindow(const std::string &json);
    QString folderForDialogs() const;

    QString m_settingsFile;
    Settings m_settings;
    Jobs m_jobs;
    Session m_session;
    SafeCopy m_safeCopy;
    Toolbox m_toolbox;
    GreyDrag m_grey;
    Actions m_actions;
    Canvas *m_canvas = nullptr;
    QWidget *m_bench = nullptr;
    Ticket *m_ticket = nullptr;
    GreyDetails *m_greyDetails = nullptr;
    Details *m_details = nullptr;
    QScrollArea *m_detailsScroll = nullptr;
    QToolButton *m_newStep = nullptr;
    StartPage *m_start = nullptr;
    bool m_showsStart = false;
    Tray *m_tray = nullptr;
    CheckColumn *m_check = nullptr;
    StatusRow *m_status = nullptr;
    QMenu *m_recentMenu = nullptr;
    QLabel *m_titleLabel = nullptr;

    QStringList m_job; ///< what openJob() was given
    QString m_opening;
    std::optional<LeftWork> m_takingUp;
    std::stop_source m_loading;
    std::stop_source m_glancing;
    bool m_edgesChecked = false;
    bool m_saving = false;
    std::optional<SaveOrder> m_nextSave; ///< asked for while saving
    bool m_swatchRunning = false;
    QTimer m_swatchTimer;
    bool m_closeAgreed = false;
    std::function<void()> m_afterSave;
};

} // namespace buttonhole::app
