#include "prepare/clean_panel.h"

#include "commands/move_words.h"
#include "controls/help_text.h"
#include "controls/sign_button.h"
#include "controls/slider.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPointer>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr float kFreshGrowPx = 4; ///< a thing's rim is not quite in its mask

} // namespace

CleanPanel::CleanPanel(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs), m_hand(session, this)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    addButtons();
    m_said = new QLabel(this);
    m_said->setObjectName(QStringLiteral("cleanSaid"));
    m_said->setWordWrap(true);
    m_said->setTextFormat(Qt::PlainText);
    layout->addWidget(m_said);
    addList();
    Slider::Range range;
    range.least = 2;
    range.most = 200;
    range.initial = 15;
    range.logarithmic = true;
    range.unit = tr(" px");
    auto *size = new Slider(tr("Size"), range, tr("Radius of the next spot that is clicked"), this);
    size->setObjectName(QStringLiteral("spotSize"));
    connect(size, &Slider::amountChanged, this, [this](double px) { m_hand.setRadius(float(px)); });
    layout->addWidget(size);
    auto *help = new HelpText(
        tr("Click a spot to mend it. Drag from a mend to choose where it is taken from; Delete "
           "takes it back."),
        this);
    constexpr int kHelpHeight = 64; // px, its three lines
    help->setFixedHeight(kHelpHeight);
    help->setAlignment(Qt::AlignTop);
    layout->addWidget(help);
    addRemove();
    connect(&m_hand, &CleanHand::selectedChanged, this, &CleanPanel::refresh);
    connect(&session, &Session::historyChanged, this, &CleanPanel::refresh);
    connect(&session, &Session::takeChanged, this, [this](const SeenChange &what) {
        if (what.parts.prepare)
            refresh();
    });
    connect(&session, &Session::photoChanged, this, [this] {
        m_finding.request_stop();
        m_find->setEnabled(true);
        m_hand.select(-1);
        say({});
        refresh();
    });
    say({});
    refresh();
}

void CleanPanel::addButtons()
{
    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    const auto add = [&](const QString &name, const char *id, const QString &help, auto &&act) {
        QToolButton *button = makeSignButton(name, id, help, this);
        button->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
        button->setAccessibleName(help);
        connect(button, &QToolButton::clicked, this, act);
        row->addWidget(button);
        return button;
    };
    m_find = add(tr("Find spots"), "findSpots", tr("Finds dust on even ground and mends it"),
                 [this] { findSpots(); });
    m_find->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    add(QStringLiteral("‹"), "spotBefore", tr("The mend before, close up"), [this] { walk(-1); });
    add(QStringLiteral("›"), "spotNext", tr("The next mend, close up"), [this] { walk(1); });
    m_none = add(tr("Remove all"), "spotsNone", tr("Takes all mends back"), [this] {
        m_hand.select(-1);
        m_session.edit(ofPrepare(tr("Mends removed")), withMends(m_session.work().take(), {}));
    });
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

/// Larger things have lines of their own in the ticket: their masks are made by every tool.
void CleanPanel::addRemove()
{
    QToolButton *remove =
        makeSignButton(tr("Take something out"), "newRemoval",
                       tr("Mark it with any tool; it is filled from round about"), this);
    connect(remove, &QToolButton::clicked, this, [this] {
        Removal fresh;
        fresh.growPx = kFreshGrowPx;
        uint64_t id = 0;
        Take take = withNewRemoval(*m_session.take(), std::move(fresh), &id);
        m_session.edit(ofPrepare(tr("New removal")), std::move(take));
        m_session.select({TicketLine::Kind::Removal, id});
    });
    layout()->addWidget(remove);
}

void CleanPanel::addList()
{
    m_list = new QListWidget(this);
    m_list->setObjectName(QStringLiteral("mendList"));
    m_list->setAccessibleName(tr("Mends"));
    constexpr int kHeight = 150; // px
    m_list->setFixedHeight(kHeight);
    m_list->setUniformItemSizes(true);
    m_list->setProperty("framed", true);
    connect(m_list, &QListWidget::currentRowChanged, this, [this](int row) {
        if (!m_isRefreshing)
            m_hand.select(row);
    });
    connect(m_list, &QListWidget::itemDoubleClicked, this, [this] { walk(0); });
    connect(m_list, &QListWidget::itemChanged, this, [this](QListWidgetItem *item) {
        if (m_isRefreshing)
            return;
        std::vector<SpotMend> mends = mendsOf(m_session.work().take());
        const auto row = size_t(m_list->row(item));
        if (row >= mends.size())
            return;
        const bool on = item->checkState() == Qt::Checked;
        mends[row].on = on;
        m_session.edit(ofPrepare(on ? tr("Mend on") : tr("Mend off")),
                       withMends(m_session.work().take(), std::move(mends)));
    });
    layout()->addWidget(m_list);
}

void CleanPanel::findSpots()
{
    if (!m_session.hasPhoto())
        return;
    m_finding.request_stop();
    m_find->setEnabled(false);
    const size_t before = mendsOf(m_session.work().take()).size();
    m_finding = m_jobs.start(
        tr("Finding spots…"),
        [levels = m_session.levels(), take = m_session.work().take()](const Run &run) {
            auto found = withFoundSpots(take, *levels, run);
            return std::pair(levels, found ? std::optional(mendsOf(*found)) : std::nullopt);
        },
        [this, before, guard = QPointer<CleanPanel>(this)](const auto &found) {
            if (!guard)
                return;
            m_find->setEnabled(true);
            const auto &[levels, mends] = found;
            if (levels != m_session.levels() || !mends) // another photo by now, or stopped
                return;
            const int more = int(mends->size()) - int(before);
            if (more <= 0) {
                say(tr("No spots were found on even ground."));
                return;
            }
            m_session.edit(ofPrepare(tr("Find spots")), withMends(m_session.work().take(), *mends));
            say(more == 1 ? tr("One spot found and mended.")
                          : tr("%n spots found and mended. Untick what is none.", nullptr, more));
        });
}

void CleanPanel::walk(int by)
{
    const auto &mends = mendsOf(*m_session.take());
    if (mends.empty())
        return;
    const int count = int(mends.size());
    const int now = m_hand.selected();
    const int next = now < 0 ? (by < 0 ? count - 1 : 0) : (now + by + count) % count;
    m_hand.select(next);
    const Spot &spot = mends[size_t(next)].spot;
    Q_EMIT lookAsked(QPointF(double(spot.x), double(spot.y)));
}

void CleanPanel::say(const QString &what)
{
    m_said->setText(what);
    m_said->setVisible(!what.isEmpty());
}

void CleanPanel::refresh()
{
    m_isRefreshing = true;
    const auto mends = m_session.hasPhoto() ? mendsOf(*m_session.take()) : std::vector<SpotMend>();
    const bool areThose = std::equal(mends.begin(), mends.end(), m_listed.begin(), m_listed.end(),
                                     [](const SpotMend &a, const SpotMend &b) {
                                         return a.spot.x == b.spot.x && a.spot.y == b.spot.y &&
                                                a.spot.radiusPx == b.spot.radiusPx;
                                     });
    if (areThose) { // one that is ticked is in use just now
        for (int i = 0; i < m_list->count(); ++i)
            m_list->item(i)->setCheckState(mends[size_t(i)].on ? Qt::Checked : Qt::Unchecked);
    } else {
        m_list->clear();
        for (size_t i = 0; i < mends.size(); ++i) {
            const Spot &spot = mends[i].spot;
            auto *item = new QListWidgetItem(
                tr("Spot %1, %2 px").arg(i + 1).arg(int(std::lround(2 * spot.radiusPx))), m_list);
            item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
            item->setCheckState(mends[i].on ? Qt::Checked : Qt::Unchecked);
        }
    }
    m_listed = mends;
    m_list->setCurrentRow(m_hand.selected());
    m_list->setVisible(!mends.empty());
    m_none->setEnabled(!mends.empty());
    for (const char *id : {"spotBefore", "spotNext"})
        findChild<QToolButton *>(QLatin1String(id))->setEnabled(!mends.empty());
    m_isRefreshing = false;
}

} // namespace buttonhole::app
