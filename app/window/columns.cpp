// The main window's columns: bench, canvas and tray, Check column, status row.
#include "window/main_window.h"

#include "check/check_column.h"
#include "controls/menu_button.h"
#include "controls/snug_scroll.h"
#include "document/finish_starts.h"
#include "document/tone_starts.h"
#include "grey/grey_details.h"
#include "prepare/prepare_details.h"
#include "prepare/removal_details.h"
#include "presets/presets_drawer.h"
#include "style/theme.h"
#include "ticket/details.h"
#include "ticket/step_details.h"
#include "ticket/takes_row.h"
#include "ticket/ticket.h"
#include "tools/tray.h"
#include "window/start_page.h"
#include "window/status_row.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QPainter>
#include <QPointer>
#include <QScrollArea>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

/// A dashed divider across a column.
class StitchDivider : public QWidget
{
public:
    explicit StitchDivider(QWidget *parent) : QWidget(parent) { setFixedHeight(9); }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter painter(this);
        drawStitchLine(painter, {12, 4.5}, {width() - 8.0, 4.5});
    }
};

} // namespace

/// What the bench is headed by: its name, and the way to presets.
QLayout *MainWindow::buildHead()
{
    auto *row = new QHBoxLayout;
    row->setContentsMargins(16, 2, 8, 2);
    auto *head = new QLabel(tr("Ticket"), m_bench);
    head->setFont(titleFont());
    row->addWidget(head);
    row->addStretch();
    auto *presets =
        makeAccentButton(QStringLiteral("presetsButton"), tr("Presets"),
                         withKey(tr("Ready made tickets, and your own"), "presets"), m_bench);
    presets->setCheckable(true);
    row->addWidget(presets);
    m_presets = new PresetsDrawer(m_session, m_jobs, m_bench);
    m_presets->hide();
    QAction *action = m_actions["presets"];
    connect(presets, &QToolButton::clicked, action, &QAction::trigger);
    connect(action, &QAction::toggled, this, [this, presets](bool shows) {
        m_presets->setVisible(shows);
        presets->setChecked(shows);
        (shows ? static_cast<QWidget *>(m_presets) : m_canvas)->setFocus(Qt::OtherFocusReason);
    });
    connect(m_presets, &PresetsDrawer::closeAsked, action, [action] { action->setChecked(false); });
    connect(m_presets, &PresetsDrawer::said, this,
            [this](const QString &text) { m_status->say(text); });
    connect(m_presets, &PresetsDrawer::failed, this, &MainWindow::showError);
    return row;
}

/// The ticket's lines: as tall as they are; where there is no room they scroll to the selected one.
QWidget *MainWindow::buildLines()
{
    auto *lines = new QWidget(m_bench);
    auto *list = new QVBoxLayout(lines);
    list->setContentsMargins(0, 0, 0, 0);
    m_ticket = new Ticket(m_session, lines);
    list->addWidget(m_ticket);
    list->addStretch();
    auto *scroll = new SnugScroll(lines, m_bench);
    connect(m_ticket, &Ticket::selectedRowChanged, scroll, [scroll](QWidget *row) {
        const auto show = [scroll, row = QPointer(row)] {
            if (row)
                scroll->ensureWidgetVisible(row, 0, row->height());
        };
        QTimer::singleShot(0, scroll, show); // when it is laid out
    });
    return scroll;
}

/// The starts of a local tone, those that go by a keep with its name.
QMenu *MainWindow::makeLocalMenu(QWidget *parent)
{
    auto *menu = new QMenu(parent);
    menu->setObjectName(QStringLiteral("localMenu"));
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        if (!m_session.hasPhoto())
            return;
        const Take &take = *m_session.take();
        const Keep *keep = m_session.keep();
        if (!keep && !take.keeps.empty())
            keep = &take.keeps.back();
        const bool hasMask = keep && (!keep->steps.empty() || keep->invert);
        const QString of = keep ? QString::fromStdString(keep->name) : QString();
        const auto offer = [&](const char *start, const QString &name) {
            QAction *action = menu->addAction(
                name, this, [this, start, id = keep ? keep->id : 0] { addLocal(start, id); });
            action->setObjectName(QLatin1String(start));
            return action;
        };
        offer("empty", tr("By a mask of its own"));
        offer("everything", tr("Everywhere"));
        offer("inside", tr("Inside %1").arg(of))->setEnabled(hasMask);
        offer("outside", tr("Outside %1").arg(of))->setEnabled(hasMask);
        menu->addSeparator();
        offer("spotlight", tr("Spotlight on %1").arg(of))->setEnabled(hasMask);
        offer("settle", tr("Settle what is outside %1").arg(of))->setEnabled(hasMask);
        offer("calm", tr("Calm the sky"));
        offer("bite", tr("Bite on texture"));
        menu->addSeparator();
        offer("dodge", tr("Dodge by brush"));
        offer("burn", tr("Burn by brush"));
    });
    return menu;
}

void MainWindow::addLocal(const char *start, uint64_t keepId)
{
    uint64_t id = 0;
    const Take &now = *m_session.take();
    auto made = withToneStart(now, *m_session.levels(), start, now.findKeep(keepId), &id);
    if (!made)
        return;
    m_session.edit(tr("New local tone"), std::move(*made));
    m_session.select({TicketLine::Kind::Tone, id});
    const std::string_view name = start;
    if (name == "dodge" || name == "burn")
        takeUpSoftBrush();
}

void MainWindow::takeUpSoftBrush()
{
    BrushTool &brush = m_toolbox.brush();
    m_toolbox.choose(brush);
    if (!m_tipBefore)
        m_tipBefore = brush.tip();
    m_softLine = m_session.line().lineId;
    Tip tip = *m_tipBefore;
    tip.softness = 0.8F;
    tip.flow = 0.12F;
    tip.edgeHold = 0;
    brush.setTip(tip);
}

void MainWindow::layDownSoftBrush()
{
    if (!m_tipBefore || m_session.line().lineId == m_softLine)
        return;
    Tip tip = *m_tipBefore;
    tip.sizePx = m_toolbox.brush().tip().sizePx;
    m_toolbox.brush().setTip(tip);
    m_tipBefore.reset();
}

/// What can be done to the whole picture at its end.
QMenu *MainWindow::makeFinishMenu(QWidget *parent)
{
    auto *menu = new QMenu(parent);
    menu->setObjectName(QStringLiteral("finishMenu"));
    const auto offer = [&](const char *start, const QString &name) {
        menu->addAction(name, this, [this, start, name] { addFinish(start, name); })
            ->setObjectName(QLatin1String(start));
    };
    offer("vignette", tr("Vignette"));
    offer("grain", tr("Grain"));
    offer("toneColours", tr("Colours by tone"));
    offer("negative", tr("Negative"));
    menu->addSeparator();
    offer("border", tr("White border"));
    offer("passePartout", tr("Passe-partout"));
    offer("blackEdge", tr("Black edge"));
    offer("thinLine", tr("Thin line"));
    offer("corners", tr("Round corners"));
    menu->addSeparator();
    offer("signature", tr("Signature"));
    return menu;
}

/// As one begins, or the line of the one there is.
void MainWindow::addFinish(const char *start, const QString &move)
{
    if (!m_session.hasPhoto())
        return;
    uint64_t id = 0;
    const Take &now = *m_session.take();
    const size_t count = now.finish.size();
    auto made = withFinishStart(now, start, &id);
    if (!made)
        return;
    const auto isAsItWas = [&] {
        return made->finish.size() == count &&
               std::equal(made->finish.begin(), made->finish.end(), now.finish.begin(),
                          [](const AdjustmentLine &a, const AdjustmentLine &b) {
                              return a.adjustment == b.adjustment && a.on == b.on;
                          });
    };
    if (!isAsItWas())
        m_session.edit(move, std::move(*made));
    m_session.select({TicketLine::Kind::Adjustment, id});
    if (const AdjustmentLine *line = m_session.adjustment();
        line && line->adjustment->kind() == Signature::kKind)
        m_details->startSigning();
}

/// What adds to the ticket: under its lines, always in sight.
QLayout *MainWindow::buildAdds()
{
    auto *newKeep = new QToolButton(m_bench);
    newKeep->setObjectName(QStringLiteral("newKeep"));
    newKeep->setText(tr("+ Keep"));
    connect(newKeep, &QToolButton::clicked, m_actions["new-keep"], &QAction::trigger);
    newKeep->setToolTip(withKey(tr("Another part that stays in colour"), "new-keep"));
    newKeep->setProperty("accent", true);
    m_newStep = new QToolButton(m_bench);
    m_newStep->setText(tr("+ Step"));
    m_newStep->setToolTip(tr("The next click begins a step of its own, not more of this one"));
    m_newStep->setProperty("accent", true);
    connect(m_newStep, &QToolButton::clicked, this, [this] {
        if (const MaskedLine *line = m_session.masked())
            m_session.select(m_session.lineOf(*line));
    });
    auto *newLocal =
        makeAccentButton(QStringLiteral("newLocal"), tr("+ Local"),
                         tr("A part that is made lighter, calmer, foggy or otherwise"), m_bench);
    openBelow(newLocal, makeLocalMenu(newLocal));
    auto *newFinish = makeAccentButton(
        QStringLiteral("newFinish"), tr("+ Finish"),
        tr("Of the whole picture: vignette, grain, colours by tone, a frame, a signature"),
        m_bench);
    openBelow(newFinish, makeFinishMenu(newFinish));
    auto *adds = new QHBoxLayout;
    adds->setContentsMargins(12, 0, 0, 2);
    adds->addWidget(newKeep);
    adds->addWidget(newLocal);
    adds->addWidget(newFinish);
    adds->addWidget(m_newStep);
    adds->addStretch();
    return adds;
}

void MainWindow::buildDetails()
{
    m_details = new Details(m_session, m_jobs, m_bench);
    const auto withRegion = [this](auto &&what) {
        if (auto *region = dynamic_cast<RegionTool *>(m_toolbox.ofSelectedStep())) {
            m_toolbox.choose(*region);
            what(*region);
        }
    };
    connect(&m_details->stepDetails(), &StepDetails::sizeAsked, this,
            [withRegion](float reach, bool isFinal) {
                withRegion([&](RegionTool &region) { region.setReach(reach, isFinal); });
            });
    connect(&m_details->stepDetails(), &StepDetails::growthAsked, this,
            [withRegion] { withRegion([](RegionTool &region) { region.growAgain(); }); });
    m_detailsScroll = new QScrollArea(m_bench);
    m_detailsScroll->setWidget(m_details);
    m_detailsScroll->setWidgetResizable(true);
    m_detailsScroll->setFrameShape(QFrame::NoFrame);
    m_detailsScroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_detailsScroll->setFocusPolicy(Qt::NoFocus);
    constexpr int kLeastDetails = 260; // px, however many steps there are
    m_detailsScroll->setMinimumHeight(kLeastDetails);
}

QWidget *MainWindow::buildBench(QWidget *centre)
{
    m_bench = new QWidget(centre);
    m_bench->setFixedWidth(300);
    auto *bench = new QVBoxLayout(m_bench);
    bench->setContentsMargins(0, 8, 0, 0);
    bench->setSpacing(4);
    bench->addLayout(buildHead());
    bench->addWidget(m_presets, 3);
    m_takes = new TakesRow(m_session, m_bench);
    connect(m_takes, &TakesRow::canvasAsked, this,
            [this] { m_canvas->setFocus(Qt::OtherFocusReason); });
    bench->addWidget(m_takes);
    bench->addWidget(buildLines());
    bench->addLayout(buildAdds());
    bench->addWidget(new StitchDivider(m_bench));
    buildDetails();
    // While presets are looked at, they have the room.
    auto *host = new QWidget(m_bench);
    auto *details = new QVBoxLayout(host);
    details->setContentsMargins(0, 0, 0, 0);
    connect(m_actions["presets"], &QAction::toggled, host,
            [host](bool shows) { host->setVisible(!shows); });
    bench->addWidget(host, 3);
    details->addWidget(m_detailsScroll);
    m_greyDetails = new GreyDetails(m_session, m_grey, m_jobs, m_bench);
    details->addWidget(m_greyDetails);
    m_prepareDetails = new PrepareDetails(m_session, m_jobs, m_bench);
    details->addWidget(m_prepareDetails);
    connect(m_prepareDetails, &PrepareDetails::closeAsked, this, [this] {
        if (const Keep *keep = m_session.keep())
            m_session.select({TicketLine::Kind::Keep, keep->id});
        else
            m_session.select({TicketLine::Kind::Grey});
    });
    return m_bench;
}

/// The canvas, and under it the tray.
QLayout *MainWindow::buildMiddle(QWidget *centre)
{
    auto *middle = new QVBoxLayout;
    middle->setSpacing(0);
    m_canvas = new Canvas(m_session, m_toolbox, m_grey, m_jobs, centre);
    m_canvas->addHand(m_prepareDetails->level()); // before the crop, over which it draws
    m_canvas->addHand(m_prepareDetails->crop());
    m_canvas->addHand(m_prepareDetails->neutral());
    m_canvas->addHand(m_prepareDetails->clean());
    m_canvas->addHand(m_details->removalDetails().source());
    connect(m_prepareDetails, &PrepareDetails::lookAsked, m_canvas,
            [this](const QPointF &photo) { m_canvas->restoreView(1, photo); });
    connect(m_prepareDetails, &PrepareDetails::canvasAsked, m_canvas,
            [this] { m_canvas->setFocus(Qt::OtherFocusReason); });
    connect(m_prepareDetails, &PrepareDetails::colourAsked, m_canvas, &Canvas::setInColour);
    connect(m_prepareDetails, &PrepareDetails::sharpnessAsked, m_canvas,
            &Canvas::setShowsSharpness);
    m_start = new StartPage(m_jobs, m_canvas);
    connect(m_start, &StartPage::openAsked, this, [this] { m_opening->choose(); });
    connect(m_start, &StartPage::chosen, this,
            [this](const QString &path) { m_opening->openPath(path); });
    auto *over = new QVBoxLayout(m_canvas);
    over->addWidget(m_start, 0, Qt::AlignCenter);
    m_tray = new Tray(m_toolbox, centre);
    middle->addWidget(m_canvas, 1);
    middle->addWidget(m_tray);
    return middle;
}

void MainWindow::buildColumns()
{
    auto *centre = new QWidget(this);
    auto *rows = new QVBoxLayout(centre);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(0);
    m_columns = new QWidget(centre);
    auto *columns = new QHBoxLayout(m_columns);
    columns->setContentsMargins(0, 0, 0, 0);
    columns->setSpacing(0);
    rows->addWidget(m_columns, 1);
    columns->addWidget(buildBench(centre));
    columns->addLayout(buildMiddle(centre), 1);
    m_check = new CheckColumn(m_session, *m_canvas, m_jobs, centre);
    columns->addWidget(m_check);
    buildSheet(*rows, centre);
    m_status = new StatusRow(m_session, *m_canvas, m_jobs, m_actions, centre);
    rows->addWidget(m_status);
    setCentralWidget(centre);

    m_titleLabel = new QLabel(menuBar());
    m_titleLabel->setAlignment(Qt::AlignCenter);
    m_titleLabel->setTextFormat(Qt::PlainText);
    m_titleLabel->setAttribute(Qt::WA_TransparentForMouseEvents);
}

/// What can be done with the ticket's selected line.
void MainWindow::showLineMenu(const QPoint &at)
{
    QList<const char *> ids;
    if (m_session.line().kind == TicketLine::Kind::Keep)
        ids = {"rename-keep", "invert-line", "duplicate-line", "line-earlier",
               "line-later",  "clear-keep",  "delete-line"};
    else if (m_session.line().kind == TicketLine::Kind::Tone)
        ids = {"invert-line", "duplicate-line", "line-earlier", "line-later", "delete-line"};
    else if (m_session.line().kind == TicketLine::Kind::Step)
        ids = {"duplicate-line", "copy-step",  "invert-line",
               "line-earlier",   "line-later", "delete-line"};
    if (ids.isEmpty())
        return;
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("lineMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const char *id : ids)
        menu->addAction(m_actions[id]);
    menu->popup(at);
}

} // namespace buttonhole::app
