// The main window's menus, and what each action of them does.
#include "window/main_window.h"

#include "check/check_column.h"
#include "commands/sign_words.h"
#include "controls/file_dialog.h"
#include "grey/grey_details.h"
#include "settings/display_profile.h"
#include "style/theme.h"
#include "ticket/details.h"
#include "ticket/takes_row.h"
#include "ticket/ticket.h"
#include "window/status_row.h"

#include <QActionGroup>
#include <QInputDialog>
#include <QMenuBar>

namespace buttonhole::app
{

void MainWindow::buildMenus()
{
    QMap<QByteArray, QMenu *> menus;
    for (const ActionRow &row : actionRows()) {
        if (row.menu[0] == 0)
            continue;
        QMenu *&menu = menus[row.menu];
        if (!menu)
            menu = menuBar()->addMenu(QCoreApplication::translate("Menus", row.menu));
        if (row.text[0] == '-')
            menu->addSeparator();
        else
            menu->addAction(m_actions[row.id]);
    }
    m_recentMenu = new QMenu(this);
    m_actions["recent"]->setMenu(m_recentMenu);

    auto *surrounds = new QMenu(this);
    auto *group = new QActionGroup(this);
    const std::pair<Surround, QString> choices[] = {
        {Surround::Light, tr("Light")}, {Surround::Mid, tr("Mid")}, {Surround::Dark, tr("Dark")}};
    for (const auto &[surround, text] : choices) {
        QAction *action = surrounds->addAction(text);
        action->setCheckable(true);
        action->setChecked(surround == m_settings.surround);
        group->addAction(action);
        connect(action, &QAction::triggered, this, [this, surround = surround] {
            m_settings.surround = surround;
            m_canvas->setSurround(surroundColour(surround));
        });
    }
    m_actions["surround"]->setMenu(surrounds);
    for (const char *id : {"view-result", "view-mask", "view-tinted", "view-cut-out",
                           "view-colour-map", "view-clipped"})
        m_actions[id]->setActionGroup(new QActionGroup(this));
}

void MainWindow::connectActions()
{
    const auto on = [this](const char *id, auto &&slot) {
        connect(m_actions[id], &QAction::triggered, this, slot);
    };
    on("quit", [this] { close(); });
    on("undo", [this] { m_session.undo(); });
    on("memory", [this] { askForMemory(); });
    on("redo", [this] { m_session.redo(); });
    on("photo-info", [this] { showInfo(); });
    for (const SignWords &words : signWords())
        on(words.action, [this, sign = words.sign] { m_toolbox.setSign(sign); });
    on("smaller", [this] {
        if (!m_toolbox.current().resize(false))
            changeTip(1 / 1.15F, 0);
    });
    on("larger", [this] {
        if (!m_toolbox.current().resize(true))
            changeTip(1.15F, 0);
    });
    on("softer", [this] { changeTip(1, 0.1F); });
    on("harder", [this] { changeTip(1, -0.1F); });
    on("hold", [this](bool holds) { m_toolbox.brush().holdToEdges(holds); });
    connect(&m_toolbox.brush(), &BrushTool::tipChanged, this,
            [this] { m_actions["hold"]->setChecked(m_toolbox.brush().tip().edgeHold > 0); });
    on("line-up", [this] { m_ticket->selectNext(-1); });
    on("line-down", [this] { m_ticket->selectNext(1); });
    on("fit", [this] { m_canvas->fit(); });
    on("actual", [this] { m_canvas->zoomTo(1); });
    on("delivered", [this] { // a px of what is exported on a px of the screen
        if (m_session.hasPhoto())
            m_canvas->zoomTo(m_exporting.scale());
    });
    on("zoom-in", [this] { m_canvas->zoomBy(1.5); });
    on("zoom-out", [this] { m_canvas->zoomBy(1 / 1.5); });
    on("bench", [this](bool shows) { m_bench->setVisible(m_settings.showsBench = shows); });
    on("check", [this](bool shows) { m_check->setVisible(m_settings.showsCheck = shows); });
    on("fullscreen", [this](bool full) { full ? showFullScreen() : showNormal(); });
    on("theme-dark", [this](bool dark) { setTheme(dark ? Theme::Dark : Theme::Light); });
    on("display-profile", [this] {
        auto *dialog =
            newFileDialog(this, tr("Display profile"), QString(), tr("ICC profiles (*.icc *.icm)"));
        connect(dialog, &QFileDialog::fileSelected, this, &MainWindow::setDisplayProfile);
        dialog->open();
    });
    on("guide", [this] { showGuide(); });
    on("keys", [this] { showKeys(); });
    on("about", [this] { showAbout(); });
}

/// The ways in and out of files.
void MainWindow::connectFiles()
{
    const auto on = [this](const char *id, auto &&slot) {
        connect(m_actions[id], &QAction::triggered, this, slot);
    };
    on("open", [this] { m_opening->choose(); });
    on("save", [this] { m_saving.save(); });
    on("save-as", [this] { m_saving.chooseAndSave(); });
    on("pack", [this](bool packs) { m_session.setPacksPhoto(packs); });
    on("export", [this] { m_exporting.ask(); });
    on("print", [this] { print(); });
    on("previous-photo", [this] { m_opening->openNext(-1); });
    on("next-photo", [this] { m_opening->openNext(1); });
    on("compare-takes", [this] { m_takes->toggleComparing(); });
    on("new-take", [this] { m_takes->add(); });
    on("copy-take", [this] { m_takes->copy(); });
    on("rename-take", [this] { m_takes->startRenaming(); });
    on("take-earlier", [this] { m_takes->move(-1); });
    on("take-later", [this] { m_takes->move(1); });
    on("delete-take", [this] { m_takes->remove(); });
    on("previous-take", [this] { m_takes->chooseNext(-1); });
    on("next-take", [this] { m_takes->chooseNext(1); });
    on("left-work", [this] { m_opening->offerLeftWork(true); });
    for (const FileWork *way :
         std::initializer_list<FileWork *>{m_opening.get(), &m_saving, &m_exporting}) {
        connect(way, &FileWork::said, this, [this](const QString &text) { m_status->say(text); });
        connect(way, &FileWork::warned, this, &MainWindow::warn);
        connect(way, &FileWork::failed, this, &MainWindow::showError);
        connect(way, &FileWork::recentChanged, this, &MainWindow::refreshRecent);
    }
    connect(m_opening.get(), &Opening::pathChanged, this, &MainWindow::refreshHint);
    connectJob();
}

/// Keeps and steps: what the Keep menu does to the selected line.
void MainWindow::connectKeeps()
{
    const auto on = [this](const char *id, auto &&slot) {
        connect(m_actions[id], &QAction::triggered, this, slot);
    };
    on("new-keep", [this] {
        uint64_t id = 0;
        m_session.edit(tr("New keep"), withNewKeep(*m_session.take(), {}, &id), {}, {0, 0, 1, 1});
        m_session.select({TicketLine::Kind::Keep, id});
    });
    on("rename-keep", [this] {
        if (const Keep *keep = m_session.keep()) {
            m_session.select({TicketLine::Kind::Keep, keep->id});
            m_details->startRenaming();
        }
    });
    on("invert-line", [this] { m_session.invertLine(); });
    on("duplicate-line", [this] { m_ticket->duplicateLine(); });
    on("line-earlier", [this] { m_ticket->moveLine(-1); });
    on("line-later", [this] { m_ticket->moveLine(1); });
    on("delete-line", [this] { m_ticket->removeLine(m_session.line()); });
    on("clear-keep", [this] { m_ticket->clearKeep(); });
    on("copy-step", [this] { m_ticket->askWhereToCopy(); });
    for (qsizetype i = 0; i < m_toolbox.tools().size(); ++i)
        connect(m_actions[("tool-" + std::to_string(i + 1)).c_str()], &QAction::triggered, this,
                [this, tool = m_toolbox.tools()[i]] { m_toolbox.takeUp(*tool); });
    connect(&m_toolbox, &Toolbox::chosen, this, &MainWindow::refreshHint);
}

void MainWindow::connectViews()
{
    const std::pair<const char *, View> views[] = {
        {"view-result", View::Result},        {"view-mask", View::Mask},
        {"view-tinted", View::Tinted},        {"view-cut-out", View::CutOut},
        {"view-colour-map", View::ColourMap}, {"view-clipped", View::Clipped}};
    for (const auto &[id, view] : views)
        connect(m_actions[id], &QAction::triggered, this, [this, view = view] {
            Seen seen = m_canvas->seen();
            seen.view = view;
            m_canvas->setSeen(seen);
        });
    connect(m_actions["next-view"], &QAction::triggered, this, &MainWindow::nextMaskView);
    connect(m_actions["only-keep"], &QAction::triggered, this, [this](bool on) {
        Seen seen = m_canvas->seen();
        seen.onlyKeep = on;
        m_canvas->setSeen(seen);
    });
    connect(m_actions["split"], &QAction::triggered, this, [this](bool on) {
        Seen seen = m_canvas->seen();
        seen.split = on;
        seen.sideBySide = seen.sideBySide && !on;
        m_canvas->setSeen(seen);
    });
    connect(m_actions["side-by-side"], &QAction::triggered, this, [this](bool on) {
        Seen seen = m_canvas->seen();
        seen.sideBySide = on;
        seen.split = seen.split && !on;
        m_canvas->setSeen(seen);
    });
    connect(m_actions["stitch"], &QAction::triggered, this, [this](bool on) {
        m_settings.showsStitch = on;
        m_canvas->setShowsStitch(on);
    });
    connect(m_canvas, &Canvas::seenChanged, this, [this, views = std::to_array(views)] {
        for (const auto &[id, view] : views)
            m_actions[id]->setChecked(m_canvas->seen().view == view);
        m_actions["split"]->setChecked(m_canvas->seen().split);
        m_actions["side-by-side"]->setChecked(m_canvas->seen().sideBySide);
    });
    connect(&m_session, &Session::photoChanged, this, [this] {
        m_actions.setHasPhoto(true);
        m_actions["view-result"]->setChecked(true);
    });
    connect(&m_session, &Session::fileChanged, this, &MainWindow::refreshTitle);
    connect(&m_safeCopy, &SafeCopy::failed, this, [this](const Error &error) {
        warn(tr("Unsaved work is not safe from a crash: %1")
                 .arg(QString::fromStdString(sentence(error))));
    });
    connect(m_canvas, &Canvas::failed, this,
            [this](const Error &error) { warn(QString::fromStdString(sentence(error))); });
    connect(&m_session, &Session::takeChanged, this, &MainWindow::checkSoftEdges);
    connect(&m_session, &Session::photoChanged, this, &MainWindow::checkSoftEdges);
    connect(&m_session, &Session::lineChanged, this, &MainWindow::refreshLine);
    connect(&m_session, &Session::lineChanged, this, &MainWindow::layDownSoftBrush);
    connect(&m_session, &Session::photoChanged, this, &MainWindow::refreshLine);
    connect(m_greyDetails, &GreyDetails::pinnedChanged, this, [this] {
        if (const auto grey = m_greyDetails->pinned()) {
            m_takes->compareWith(nullptr);
            m_canvas->setPinned({grey, nullptr}, tr("Grey before"));
        } else if (m_canvas->pinned().grey) {
            m_canvas->setPinned({});
        }
        Seen seen = m_canvas->seen();
        seen.split = m_greyDetails->pinned() != nullptr;
        m_canvas->setSeen(seen);
    });
    connect(m_takes, &TakesRow::comparedChanged, this, &MainWindow::showCompared);
    connect(m_canvas, &Canvas::hueMissed, this,
            [this] { m_status->say(tr("There is no colour here to take hold of.")); });
    refreshLine();
    connect(&m_session, &Session::historyChanged, this, [this] {
        m_actions["undo"]->setEnabled(m_session.history().canUndo());
        m_actions["redo"]->setEnabled(m_session.history().canRedo());
        refreshHint();
    });
    connect(m_ticket, &Ticket::renameAsked, m_details, &Details::startRenaming);
    connect(m_ticket, &Ticket::menuAsked, this, &MainWindow::showLineMenu);
    connect(&m_check->glass(), &PickGlass::optionsChanged, this, [this] {
        m_settings.glassZoom = m_check->glass().zoom();
        m_settings.glassShowsMask = m_check->glass().showsMask();
    });
}

void MainWindow::setDisplayProfile(const QString &file)
{
    m_settings.displayProfile = file;
    m_canvas->setOutput(std::make_shared<const OutputColour>(findDisplayProfile(file)));
}

void MainWindow::nextMaskView()
{
    constexpr View kOrder[] = {View::Result, View::Mask, View::Tinted, View::CutOut,
                               View::ColourMap};
    Seen seen = m_canvas->seen();
    const auto *at = std::find(std::begin(kOrder), std::end(kOrder), seen.view);
    seen.view = kOrder[size_t(at - kOrder + 1) % std::size(kOrder)];
    m_canvas->setSeen(seen);
}

void MainWindow::changeTip(float sizeFactor, float softnessStep)
{
    Tip tip = m_toolbox.brush().tip();
    float size = std::round(tip.sizePx * sizeFactor);
    if (size == tip.sizePx && sizeFactor != 1) // small tips move by whole pixels
        size += sizeFactor > 1 ? 1.0F : -1.0F;
    tip.sizePx = std::clamp(size, kMinTipPx, kMaxTipPx);
    tip.softness = std::clamp(tip.softness + softnessStep, 0.0F, 1.0F);
    m_toolbox.brush().setTip(tip);
}

void MainWindow::askForMemory()
{
    auto *dialog = new QInputDialog(this);
    dialog->setObjectName(QStringLiteral("memory"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Memory"));
    dialog->setLabelText(tr("MB for undo and speed, besides the photo itself.\n"
                            "Undo that needs more goes to the disk."));
    dialog->setInputMode(QInputDialog::IntInput);
    dialog->setIntRange(kLeastMemoryMb, kMostMemoryMb);
    dialog->setIntStep(128);
    dialog->setIntValue(m_settings.memoryMb);
    dialog->setOkButtonText(tr("Use it"));
    dialog->setCancelButtonText(tr("Not now"));
    connect(dialog, &QInputDialog::intValueSelected, this, &MainWindow::setMemory);
    dialog->open();
}

} // namespace buttonhole::app
