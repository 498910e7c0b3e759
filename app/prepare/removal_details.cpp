#include "prepare/removal_details.h"

#include "commands/move_words.h"
#include "controls/help_text.h"
#include "controls/sign_button.h"
#include "controls/slider.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

RemovalDetails::RemovalDetails(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs), m_source(session, this)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    m_said = new QLabel(this);
    m_said->setObjectName(QStringLiteral("removalSaid"));
    m_said->setWordWrap(true);
    m_said->setTextFormat(Qt::PlainText);
    layout->addWidget(m_said);
    addButtons();
    addGrow();
    auto *help =
        new HelpText(tr("Its shadow goes with a thing: mark it too, or grow the mark. What is "
                        "filled stays as it is until you fill it again."),
                     this);
    constexpr int kHelpHeight = 64; // px, its three lines
    help->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    help->setFixedHeight(kHelpHeight);
    help->setAlignment(Qt::AlignTop);
    layout->addWidget(help);
    connect(&m_source, &SourceHand::changed, this,
            [this] { m_from->setChecked(m_source.isActive()); });
    connect(&session, &Session::lineChanged, this, [this] { m_source.setActive(false); });
    connect(&session, &Session::photoChanged, this, [this] {
        m_stop.request_stop();
        m_problemOf = 0;
    });
}

void RemovalDetails::addButtons()
{
    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    const auto add = [&](const QString &name, const char *id, const QString &help) {
        QToolButton *button = makeSignButton(name, id, help, this);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        row->addWidget(button);
        return button;
    };
    m_fill = add(tr("Fill"), "fillRemoval", tr("Fills what is marked from round about"));
    m_again = add(tr("Another try"), "tryAgain", tr("Fills it again, otherwise"));
    m_from = add(tr("From a part"), "fillFrom",
                 tr("Draw a box round what it may be filled from; again: from all round about"));
    m_from->setCheckable(true);
    connect(m_fill, &QToolButton::clicked, this, [this] {
        if (isFilling())
            m_stop.request_stop();
        else
            fill(0);
    });
    connect(m_again, &QToolButton::clicked, this, [this] { fill(1); });
    connect(m_from, &QToolButton::clicked, this, [this](bool on) {
        const Removal *removal = m_session.removal();
        if (on && removal && !removal->source.isEmpty())
            m_session.edit(ofMask(m_session, tr("Source: all round about")),
                           withRemoval(*m_session.take(), removal->id,
                                       [](Removal &each) { each.source = {}; }));
        m_source.setActive(on);
    });
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

void RemovalDetails::addGrow()
{
    const Param<Removal> &param = paramNamed(removalParams(), "growPx");
    m_grow = new Slider(tr("Grow the mark"), Slider::Range::of(param),
                        tr("So far beyond what is marked is taken out too"), this);
    m_grow->setObjectName(QStringLiteral("removal.growPx"));
    connect(m_grow, &Slider::amountChanged, this, [this, &param](double amount) {
        if (const Removal *removal = m_session.removal())
            m_session.edit(ofMask(m_session, tr("Grow"), m_grow->valueText()),
                           withRemoval(*m_session.take(), removal->id,
                                       [&](Removal &each) {
                                           param.of(each) = float(amount / param.scale.factor);
                                       }),
                           QStringLiteral("grow-%1").arg(removal->id));
    });
    connect(m_grow, &Slider::released, this, [this] { m_session.endMerge(); });
    layout()->addWidget(m_grow);
}

void RemovalDetails::fill(int tries)
{
    const Removal *removal = m_session.removal();
    if (!removal || isFilling())
        return;
    m_filling = removal->id;
    m_problemOf = 0;
    const float all = std::min(removal->tries + float(tries), Removal::kMostTries);
    const Take take =
        withRemoval(*m_session.take(), removal->id, [&](Removal &each) { each.tries = all; });
    const auto levels = m_session.levels();
    m_stop = m_jobs.start(
        tr("Filling %1…").arg(QString::fromStdString(removal->name)),
        [levels, take, id = removal->id](const Run &run) {
            return std::pair(levels, std::optional(filled(*levels, take, id, run)));
        },
        [this, id = removal->id, guard = QPointer<RemovalDetails>(this)](const auto &made) {
            if (!guard)
                return;
            m_filling = 0;
            if (made.first == m_session.levels() && made.second) // not another photo by now
                receive(id, *made.second);
            refresh();
        });
    refresh();
}

/// What was marked meanwhile stays: then the answer is one to an earlier mark.
void RemovalDetails::receive(uint64_t removalId, const Result<Removal> &made)
{
    const Take &now = m_session.work().take();
    if (!now.findRemoval(removalId))
        return;
    if (!made) {
        const bool isStopped = made.error().kind == ErrorKind::Cancelled;
        m_problemOf = isStopped ? 0 : removalId;
        m_problem = QString::fromStdString(made.error().detail);
        return;
    }
    m_session.edit(tr("%1 filled").arg(QString::fromStdString(made->name)),
                   withRemoval(now, removalId, [&](Removal &each) {
                       each.patch = made->patch;
                       each.filledFor = made->filledFor;
                       each.tries = made->tries;
                   }));
}

void RemovalDetails::refresh()
{
    const Removal *removal = m_session.removal();
    if (!removal)
        return;
    const bool isOwn = m_filling == removal->id;
    const bool isMarked = !removal->steps.empty() || removal->invert;
    m_fill->setText(isOwn ? tr("Stop") : tr("Fill"));
    m_fill->setEnabled(isOwn || (isMarked && !isFilling()));
    m_again->setEnabled(removal->patch && !isFilling());
    m_from->setChecked(m_source.isActive());
    m_grow->setAmount(double(removal->growPx));
    m_said->setText(m_problemOf == removal->id ? m_problem
                    : isOwn                    ? tr("It is being filled…")
                    : !isMarked ? tr("Mark what is to go, with any tool: brush, outline, subject.")
                    : !removal->patch    ? tr("Marked. Fill it when the mark is right.")
                    : removal->isStale() ? tr("The mark or its source has changed: fill it again.")
                                         : tr("Filled."));
    constexpr int kTextWidth = 268; // px, the bench's
    m_said->setFixedHeight(m_said->heightForWidth(kTextWidth));
}

} // namespace buttonhole::app
