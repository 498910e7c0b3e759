#pragma once

#include "canvas/canvas.h"
#include "commands/safe_copy.h"
#include "commands/session.h"
#include "jobs/jobs.h"
#include "settings/settings.h"
#include "tools/toolbox.h"
#include "window/actions.h"
#include "window/exporting.h"
#include "window/opening.h"

#include <QKeyEvent>
#include <QMainWindow>

class QLabel;
class QScrollArea;
class QVBoxLayout;
class QToolButton;

namespace buttonhole::app
{

class CheckColumn;
class Details;
class GreyDetails;
class PrepareDetails;
class StatusRow;
class Delivering;
class PresetsDrawer;
class Printing;
class Sheet;
class TakesRow;
class Ticket;
class StartPage;
class Tray;

/// The window: bench, canvas and tray, Check column, status row; what joins them, and menus.
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
    Opening &opening() { return *m_opening; }
    Saving &saving() { return m_saving; }
    Exporting &exporting() { return m_exporting; }

    void showError(const Error &error);
    /// The session ends: what is not saved is copied, and the window closes without asking.
    void endNow();

protected:
    void closeEvent(QCloseEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void askAboutDelivery();
    // columns.cpp
    void buildColumns();
    QWidget *buildBench(QWidget *centre);
    QLayout *buildHead();
    QWidget *buildLines();
    QMenu *makeLocalMenu(QWidget *parent);
    QMenu *makeFinishMenu(QWidget *parent);
    void addFinish(const char *start, const QString &move);
    /// A wide soft tip of low flow for as long as this line is selected.
    void takeUpSoftBrush();
    void layDownSoftBrush();
    void addLocal(const char *start, uint64_t keepId);
    QLayout *buildAdds();
    void buildDetails();
    QLayout *buildMiddle(QWidget *centre);

    // sheet_room.cpp
    void buildSheet(QVBoxLayout &rows, QWidget *centre);
    void connectJob();
    void takeJob(const PhotoJob &job, bool isWhole);
    void noteWorking();
    void print();
    void printMany(const QStringList &photos);
    void deliverMany(const QStringList &photos);
    void choosePresetFor(const QStringList &photos, const QPoint &at);
    void applyTo(QStringList photos, const Preset &preset);
    void applyOwnTo(const QStringList &photos);

    // menus.cpp
    void buildMenus();
    void connectActions();
    void connectFiles();
    void connectKeeps();
    void connectViews();
    void setDisplayProfile(const QString &file);
    void nextMaskView();
    void changeTip(float sizeFactor, float softnessStep);
    void askForMemory();

    // pages.cpp
    void showKeys();
    void showGuide();
    void showPage(const char *name, const QString &title, const QString &text);
    void showInfo();
    void showAbout();

    // main_window.cpp
    void applySettings();
    void setTheme(Theme theme);
    void setMemory(int mb);
    void refreshTitle();
    void refreshStart();
    void refreshHint();
    void refreshRecent();
    void refreshLine();
    void showLineMenu(const QPoint &at);
    /// Says so, once, where edges are meant to be soft and the edge net cannot be had.
    void checkSoftEdges();
    void showCompared();
    void warn(const QString &text);
    /// Undo while a line is being drawn takes back that line.
    bool keepsUndo(const QKeyEvent &event) const
    {
        return m_toolbox.current().isUnfinished() && event.matches(QKeySequence::Undo);
    }

    QString m_settingsFile;
    Settings m_settings;
    Jobs m_jobs;
    Session m_session;
    SafeCopy m_safeCopy;
    Saving m_saving;
    Exporting m_exporting;
    std::unique_ptr<Opening> m_opening;
    Toolbox m_toolbox;
    std::optional<Tip> m_tipBefore; ///< of the soft brush, while that is in hand
    uint64_t m_softLine = 0;        ///< the line that it is for
    GreyDrag m_grey;
    Actions m_actions;
    Canvas *m_canvas = nullptr;
    QWidget *m_bench = nullptr;
    QWidget *m_columns = nullptr;
    Sheet *m_sheet = nullptr;
    Printing *m_printing = nullptr;
    Delivering *m_delivering = nullptr;
    bool m_wasUnsaved = false;
    PresetsDrawer *m_presets = nullptr;
    TakesRow *m_takes = nullptr;
    Ticket *m_ticket = nullptr;
    GreyDetails *m_greyDetails = nullptr;
    PrepareDetails *m_prepareDetails = nullptr;
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

    bool m_edgesChecked = false;
    bool m_closeAgreed = false;
    bool m_stopAgreed = false; ///< of deliveries, while it closes
};

} // namespace buttonhole::app
