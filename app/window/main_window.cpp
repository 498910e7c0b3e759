#include "window/main_window.h"

#include "check/check_column.h"
#include "controls/plain_details.h"
#include "controls/plain_tip.h"
#include "delivery/delivering.h"
#include "grey/grey_details.h"
#include "prepare/prepare_details.h"
#include "settings/display_profile.h"
#include "style/theme.h"
#include "ticket/details.h"
#include "ticket/takes_row.h"
#include "ticket/ticket.h"
#include "tools/tray.h"
#include "window/answer_button.h"
#include "window/start_page.h"
#include "window/status_row.h"
#include "window/swatches.h"
#include "window/window_state.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QMimeData>
#include <QScrollArea>
#include <QStandardPaths>
#include <QToolButton>

/// Resources of a static library are registered by hand; the macro must stand outside namespaces.
static void registerResources()
{
    Q_INIT_RESOURCE(resources);
}

namespace buttonhole::app
{

MainWindow::MainWindow(const QString &settingsFile, const QString &unsavedFolder)
    : m_settingsFile(settingsFile), m_settings(Settings::load(settingsFile)),
      m_safeCopy(m_session, m_jobs, unsavedFolder,
                 [this] { return windowJson(m_session, *m_canvas); }),
      m_saving({*this, m_session, m_jobs, m_settings},
               [this] { return windowJson(m_session, *m_canvas); }),
      m_exporting({*this, m_session, m_jobs, m_settings}), m_toolbox(m_session, m_jobs),
      m_grey(m_session), m_actions(this)
{
    registerResources();
    applyTheme(m_settings.theme);
    setAcceptDrops(true);
    setWindowIcon(QIcon(QStringLiteral(":/buttonhole.svg")));
    buildColumns();
    m_opening = std::make_unique<Opening>(FileWork::Of{*this, m_session, m_jobs, m_settings},
                                          *m_canvas, m_safeCopy, m_saving);
    new Swatches(m_session, m_jobs, *m_ticket, *m_details, this);
    buildMenus();
    connectFiles();
    connectActions();
    connectKeeps();
    connectViews();
    applySettings();
    m_actions.setHasPhoto(false);
    refreshTitle();
    refreshHint();
    qApp->installEventFilter(this);
}

MainWindow::~MainWindow()
{
    qApp->removeEventFilter(this);
    m_settings.tip = m_tipBefore.value_or(m_toolbox.brush().tip());
    m_settings.windowGeometry = saveGeometry();
    m_settings.save(m_settingsFile);
    delete takeCentralWidget(); // what it shows, members of this, must outlive it
}

void MainWindow::applySettings()
{
    setMemory(m_settings.memoryMb);
    m_toolbox.brush().setTip(m_settings.tip);
    m_check->glass().setZoom(m_settings.glassZoom);
    m_check->glass().setShowsMask(m_settings.glassShowsMask);
    m_canvas->setSurround(surroundColour(m_settings.surround));
    m_canvas->setShowsStitch(m_settings.showsStitch);
    m_actions["stitch"]->setChecked(m_settings.showsStitch);
    m_actions["bench"]->setChecked(m_settings.showsBench);
    m_actions["check"]->setChecked(m_settings.showsCheck);
    m_bench->setVisible(m_settings.showsBench);
    m_check->setVisible(m_settings.showsCheck);
    m_actions["theme-dark"]->setChecked(m_settings.theme == Theme::Dark);
    m_canvas->setOutput(
        std::make_shared<const OutputColour>(findDisplayProfile(m_settings.displayProfile)));
    if (!restoreGeometry(m_settings.windowGeometry))
        resize(1280, 800);
    refreshRecent();
}

void MainWindow::setTheme(Theme theme)
{
    m_settings.theme = theme;
    applyTheme(theme);
    update();
}

void MainWindow::resizeEvent(QResizeEvent *event)
{
    QMainWindow::resizeEvent(event);
    const int third = width() / 3;
    m_titleLabel->setGeometry(third, 0, third, menuBar()->height());
}

/// Keys that no widget wanted: Delete means the selected line, unless a curve's point has the
/// focus.
void MainWindow::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Delete)
        m_actions["delete-line"]->trigger();
    else
        QMainWindow::keyPressEvent(event);
}

void MainWindow::refreshTitle()
{
    m_actions["pack"]->setChecked(m_session.packsPhoto());
    if (!m_session.hasPhoto()) {
        setWindowTitle(tr("Buttonhole"));
        return;
    }
    const QString title =
        m_session.title() + (m_session.isUnsaved() ? QStringLiteral(" *") : QString());
    setWindowTitle(title);
    m_titleLabel->setText(title); // the frame's title is away in full screen
}

/// Where nothing is open: what can be opened, and what does nothing yet is quiet.
void MainWindow::refreshStart()
{
    const bool isEmpty = !m_session.hasPhoto() && m_opening->path().isEmpty();
    if (isEmpty && !m_showsStart)
        m_start->setFiles(m_settings.recentFiles);
    m_showsStart = isEmpty;
    m_start->setVisible(isEmpty);
    for (QWidget *each : {static_cast<QWidget *>(m_bench), static_cast<QWidget *>(m_tray),
                          static_cast<QWidget *>(m_check)})
        each->setEnabled(m_session.hasPhoto());
}

void MainWindow::refreshHint()
{
    refreshStart();
    if (!m_opening->path().isEmpty() && !m_session.hasPhoto())
        m_canvas->setHint(tr("Opening %1…").arg(QFileInfo(m_opening->path()).fileName()));
    else if (!m_session.hasPhoto())
        m_canvas->setHint({});
    else if (const MaskedLine *line = m_session.masked(); line && line->steps.empty() &&
                                                          !m_session.line().isOfAll() &&
                                                          !(line->invert && m_session.tone()))
        m_canvas->setHint(m_session.removal() ? tr("Mark what is to be taken out.")
                          : m_session.tone()  ? tr("Mark where it acts.")
                                              : m_toolbox.current().firstHint());
    else
        m_canvas->setHint({});
}

/// The bench and the tray fit the selected line.
void MainWindow::refreshLine()
{
    const bool isGrey = m_session.hasPhoto() && m_session.line().kind == TicketLine::Kind::Grey;
    const bool isPrepare =
        m_session.hasPhoto() && m_session.line().kind == TicketLine::Kind::Prepare;
    m_detailsScroll->setVisible(!isGrey && !isPrepare);
    m_prepareDetails->setVisible(isPrepare);
    m_newStep->setVisible(m_session.step() != nullptr);
    m_greyDetails->setVisible(isGrey);
    m_tray->setGrey(isGrey);
    refreshHint();
    m_canvas->refreshLook();
}

void MainWindow::refreshRecent()
{
    m_recentMenu->clear();
    for (const QString &path : m_settings.recentFiles)
        m_recentMenu
            ->addAction(QFileInfo(path).fileName(), this,
                        [this, path] { m_opening->openPath(path); })
            ->setToolTip(plainTip(path));
    m_actions["recent"]->setEnabled(!m_settings.recentFiles.isEmpty());
}

void MainWindow::setMemory(int mb)
{
    m_settings.memoryMb = mb;
    const size_t bytes = size_t(mb) << 20;
    const QString folder =
        QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/undo");
    m_session.setUndoBudget(bytes / 2, QDir().mkpath(folder) ? folder : QString());
    m_canvas->setMemory(bytes / 4, bytes / 4);
}

bool MainWindow::eventFilter(QObject *watched, QEvent *event)
{
    // An edit in the middle of a stroke would be painted over by it: its keys stay with the canvas.
    if (event->type() == QEvent::ShortcutOverride &&
        (m_toolbox.current().isBusy() || keepsUndo(*static_cast<QKeyEvent *>(event)))) {
        event->accept();
        return true;
    }
    // C held shows the original; a shortcut could not tell when the key goes up.
    const bool isKey = event->type() == QEvent::KeyPress || event->type() == QEvent::KeyRelease;
    if (!isKey || !isActiveWindow() || !watched->isWidgetType())
        return QMainWindow::eventFilter(watched, event);
    auto *key = static_cast<QKeyEvent *>(event);
    const bool isTyping = qApp->focusWidget() && qApp->focusWidget()->inherits("QLineEdit");
    if (key->key() != Qt::Key_C || isTyping || !m_session.hasPhoto() ||
        (event->type() == QEvent::KeyPress && key->modifiers() != Qt::NoModifier))
        return QMainWindow::eventFilter(watched, event);
    if (!key->isAutoRepeat())
        m_canvas->showOriginal(event->type() == QEvent::KeyPress);
    return true;
}

/// Another take beside the one that is worked on: by Split, or side by side.
void MainWindow::showCompared()
{
    const auto &other = m_takes->compared();
    const auto nameOf = [](const Take &take) { return QString::fromStdString(take.name); };
    Seen seen = m_canvas->seen();
    if (other) {
        m_canvas->setPinned({nullptr, other}, nameOf(*other), nameOf(m_session.work().take()));
        seen.split = !seen.sideBySide;
    } else {
        m_canvas->setPinned({});
        seen.split = seen.sideBySide = false;
    }
    m_canvas->setSeen(seen);
    m_actions["compare-takes"]->setChecked(other != nullptr);
}

void MainWindow::checkSoftEdges()
{
    if (m_edgesChecked || !m_session.hasPhoto() || !hasSoftEdges(*m_session.take()))
        return;
    m_edgesChecked = true;
    m_jobs.start(
        {}, [](const Run &) { return softEdgesReady(); },
        [this](const Result<void> &ready) {
            if (!ready)
                warn(
                    tr("Edges stay hard: %1").arg(QString::fromStdString(sentence(ready.error()))));
        });
}

/// What is worth more than a glance.
void MainWindow::warn(const QString &text)
{
    constexpr int kLong = 60000; // ms
    m_status->say(text, kLong);
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    const bool isDelivering = m_exporting.isBusy() || m_delivering->isRunning();
    if (m_closeAgreed ||
        (!m_session.isUnsaved() && !m_saving.isBusy() && (!isDelivering || m_stopAgreed))) {
        m_delivering->stop();
        m_jobs.stopAll();
        event->accept();
        return;
    }
    event->ignore();
    if (isDelivering && !m_stopAgreed)
        return askAboutDelivery();
    const auto leave = [this] {
        m_closeAgreed = true;
        close();
    };
    if (m_saving.isBusy()) // close as soon as it is on the disk
        m_saving.whenSaved(leave);
    else
        m_saving.afterUnsaved(leave);
}

/// Pictures that are on their way are not dropped unasked.
void MainWindow::askAboutDelivery()
{
    auto *box = newBox(this, "delivering", tr("Pictures are still being delivered."));
    setPlainDetails(*box, tr("What is delivered stays; nothing is half-written."));
    auto *stops =
        addAnswer(*box, tr("Stop them and close"), QMessageBox::DestructiveRole, "stopDelivering");
    auto *stays = addAnswer(*box, tr("Let them go on"), QMessageBox::RejectRole, "stay");
    box->setDefaultButton(stays);
    box->setEscapeButton(stays);
    connect(stops, &QPushButton::clicked, this, [this] {
        m_stopAgreed = true;
        close();
        m_stopAgreed = false;
    });
    box->open();
}

void MainWindow::endNow()
{
    m_safeCopy.copyForGood();
    m_closeAgreed = true;
    close();
}

void MainWindow::dragEnterEvent(QDragEnterEvent *event)
{
    for (const QUrl &url : event->mimeData()->urls())
        if (url.isLocalFile()) {
            event->acceptProposedAction();
            return;
        }
}

void MainWindow::dropEvent(QDropEvent *event)
{
    QStringList paths;
    for (const QUrl &url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths.append(url.toLocalFile());
    if (paths.isEmpty())
        return;
    event->acceptProposedAction();
    m_opening->openJob(paths);
}

void MainWindow::showError(const Error &error)
{
    auto *box = newBox(this, "error", QString::fromStdString(sentence(error)));
    box->addButton(tr("All right"), QMessageBox::AcceptRole);
    box->open();
}

} // namespace buttonhole::app
