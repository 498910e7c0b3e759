#include "ticket/step_details.h"

#include "commands/action_rows.h"
#include "commands/move_words.h"
#include "commands/number_words.h"
#include "commands/sign_words.h"
#include "commands/step_words.h"
#include "controls/slider.h"
#include "mask/colour_window.h"
#include "mask/match_step.h"
#include "mask/region_step.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

ColourWindow windowOf(const ColourWindowStep &step)
{
    return step.window();
}

Match matchOf(const MatchStep &step)
{
    return step.match();
}

/// Its numbers are its tool's to change: they are solved for.
bool isSolved(std::string_view kind)
{
    return kind == "region" || kind == "subject";
}

} // namespace

StepDetails::StepDetails(Session &session, QWidget *parent) : QWidget(parent), m_session(session)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    addSigns();
    addLimit();
    addSwitches();
    for (const StepKind *kind : stepKinds().all())
        if (!isSolved(kind->id))
            addNumbers(*kind);
    addRegion();
    m_invert = new QCheckBox(tr("Everything but this"), this);
    m_invert->setToolTip(
        withKey(tr("The step covers all that is not in its shape"), "invert-line"));
    connect(m_invert, &QCheckBox::clicked, this, [this] { m_session.invertLine(); });
    layout->addWidget(m_invert);
    m_strength = new Slider(
        tr("Strength of the keep"), Slider::Range::of(paramNamed(keepParams(), "strength")),
        tr("How much of the colour comes back, in all that the keep covers"), this);
    connect(m_strength, &Slider::amountChanged, this, [this](double amount) {
        if (const MaskedLine *line = m_session.masked())
            m_session.edit(ofMask(m_session, tr("Strength"), m_strength->valueText()),
                           withMasked(*m_session.take(), line->id,
                                      [&](MaskedLine &l) { l.strength = float(amount / 100); }),
                           QStringLiteral("strength-%1").arg(line->id));
    });
    connect(m_strength, &Slider::released, this, [this] { m_session.endMerge(); });
    layout->addWidget(m_strength);
    auto *remove = new QPushButton(tr("Remove step"), this);
    remove->setToolTip(tr("Take this step out of the mask (Delete)"));
    connect(remove, &QPushButton::clicked, this, [this] {
        if (const Step *step = m_session.step())
            m_session.edit(ofStep(m_session, tr("Removal")),
                           withoutStep(*m_session.take(), m_session.masked()->id, step->id));
    });
    m_toLine = new QPushButton(this);
    connect(m_toLine, &QPushButton::clicked, this, [this] {
        if (const MaskedLine *line = m_session.masked())
            m_session.select(m_session.lineOf(*line));
    });
    auto *row = new QHBoxLayout;
    row->addWidget(remove);
    row->addWidget(m_toLine);
    row->addStretch();
    layout->addLayout(row);
    layout->addStretch();
}

void StepDetails::addSigns()
{
    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    auto *group = new QButtonGroup(this);
    for (const SignWords &words : signWords()) {
        auto *button = new QToolButton(this);
        button->setText(words.word);
        button->setCheckable(true);
        button->setProperty("sign", true);
        button->setToolTip(words.help);
        group->addButton(button);
        connect(button, &QToolButton::clicked, this, [this, sign = words.sign] {
            const Step *step = m_session.step();
            if (step && step->sign != sign)
                m_session.edit(ofStep(m_session, tr("Sign")),
                               withStep(*m_session.take(), m_session.masked()->id, step->id,
                                        [&](Step &s) { s.sign = sign; }));
        });
        row->addWidget(button);
        m_signs.append(button);
    }
    row->addStretch();
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

void StepDetails::addLimit()
{
    auto *row = new QHBoxLayout;
    auto *label = new QLabel(tr("Acts"), this);
    m_limit = new QComboBox(this);
    m_limit->setObjectName(QStringLiteral("limit"));
    m_limit->setAccessibleName(tr("Where the step acts"));
    m_limit->setToolTip(tr("Hold this step to what the mask, or a step above, already covers"));
    label->setBuddy(m_limit);
    connect(m_limit, &QComboBox::activated, this, [this](int i) {
        const Step *step = m_session.step();
        const uint64_t limit = m_limit->itemData(i).toULongLong();
        if (step && step->insideOf != limit)
            m_session.edit(ofStep(m_session, tr("Limit")),
                           withStep(*m_session.take(), m_session.masked()->id, step->id,
                                    [&](Step &s) { s.insideOf = limit; }));
    });
    row->addWidget(label);
    row->addWidget(m_limit, 1);
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

void StepDetails::refreshLimit()
{
    const Step *step = m_session.step();
    m_limit->clear();
    m_limit->addItem(tr("Anywhere"), QVariant::fromValue<qulonglong>(Step::kAnywhere));
    m_limit->addItem(tr("Inside what is there"),
                     QVariant::fromValue<qulonglong>(Step::kWhatIsThere));
    const auto &steps = m_session.masked()->steps;
    for (size_t i = 0; i < steps.size() && steps[i].id != step->id; ++i)
        m_limit->addItem(tr("Inside step %1, %2").arg(i + 1).arg(titleOf(steps[i])),
                         QVariant::fromValue<qulonglong>(steps[i].id));
    int at = m_limit->findData(QVariant::fromValue<qulonglong>(step->insideOf));
    if (at < 0) { // removed, or moved behind this one
        const Step *other = m_session.masked()->findStep(step->insideOf);
        m_limit->addItem(other ? tr("Inside a later step, %1").arg(titleOf(*other))
                               : tr("Anywhere (its step is gone)"),
                         QVariant::fromValue<qulonglong>(step->insideOf));
        at = m_limit->count() - 1;
    }
    m_limit->setCurrentIndex(at);
}

void StepDetails::addNumbers(const StepKind &kind)
{
    for (size_t i = 0; i < kind.numbers.size(); ++i) {
        const AnyParam &number = kind.numbers[i];
        if (!number.scale.hasSlider)
            continue;
        const QString name = numberWord(kind.id, number.id);
        auto *slider =
            new Slider(name, Slider::Range::of(number), numberHelp(kind.id, number.id), this);
        slider->setObjectName(QString::fromStdString(std::string(kind.id) + "." + number.id));
        connect(slider, &Slider::amountChanged, this,
                [this, &kind, &number, i, name](double amount) {
                    const Step *step = m_session.step();
                    if (step && step->shape->kind() == kind.id)
                        put(name, step->shape->withNumber(i, float(amount / number.scale.factor)),
                            QString::fromStdString(number.id));
                });
        connect(slider, &Slider::released, this, [this] { m_session.endMerge(); });
        layout()->addWidget(slider);
        m_numbers.append({slider, kind.id, i, number.scale.factor});
    }
}

template <class StepType, class Data>
void StepDetails::addSwitch(const char *kind, const QString &name, const QString &help,
                            Data (*dataOf)(const StepType &), bool Data::*member)
{
    auto *box = new QCheckBox(name, this);
    box->setToolTip(help);
    connect(box, &QCheckBox::clicked, this, [this, dataOf, member, name](bool on) {
        const Step *step = m_session.step();
        const auto *shape = step ? dynamic_cast<const StepType *>(step->shape.get()) : nullptr;
        if (!shape)
            return;
        Data values = dataOf(*shape);
        values.*member = on;
        put(name, shape->with(values));
    });
    layout()->addWidget(box);
    m_switches.append({box, kind, [=](const StepShape &shape) {
                           return dataOf(static_cast<const StepType &>(shape)).*member;
                       }});
}

void StepDetails::addSwitches()
{
    using W = ColourWindow;
    addSwitch<ColourWindowStep, W>(
        "colour-window", tr("Follow shading"),
        tr("Lit and shaded parts of one thing both join: lightness runs free"), windowOf,
        &W::followsShading);
    const QString connected = tr("Connected");
    const QString help = tr("Only what joins the places that were clicked");
    addSwitch<ColourWindowStep, W>("colour-window", connected, help, windowOf, &W::isConnected);
    addSwitch<MatchStep, Match>("match", connected, help, matchOf, &Match::isConnected);
}

void StepDetails::addRegion()
{
    m_size = new Slider(tr("Size"), Slider::Range::of(paramNamed(regionAskParams(), "reach")),
                        tr("Stops at an edge farther in or farther out (Q, W)"), this);
    connect(m_size, &Slider::amountChanged, this, [this](double amount) {
        Q_EMIT sizeAsked(float(amount / 100), !m_size->isDragging());
    });
    connect(m_size, &Slider::released, this,
            [this] { Q_EMIT sizeAsked(float(m_size->amount() / 100), true); });
    layout()->addWidget(m_size);
    m_growAgain = new QPushButton(tr("Grow again"), this);
    m_growAgain->setToolTip(tr("Find its edges anew from its marks, as this version does"));
    connect(m_growAgain, &QPushButton::clicked, this, &StepDetails::growthAsked);
    auto *row = new QHBoxLayout;
    row->addWidget(m_growAgain);
    row->addStretch();
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

void StepDetails::put(const QString &text, const Shape &shape, const QString &mergeKey)
{
    const Step *step = m_session.step();
    if (!step) // gone by undo, under the finger
        return;
    m_session.edit(ofStep(m_session, text),
                   withStep(*m_session.take(), m_session.masked()->id, step->id,
                            [&](Step &s) { s.shape = shape; }),
                   mergeKey.isEmpty() ? QString() : mergeKey + QStringLiteral("-%1").arg(step->id));
}

void StepDetails::refreshToLine()
{
    const bool isKeep = m_session.keep() != nullptr;
    m_toLine->setText(isKeep                ? tr("Edge and colour")
                      : m_session.removal() ? tr("Fill it")
                                            : tr("Edge and effects"));
    m_toLine->setToolTip(
        isKeep ? tr("Goes to the line of the keep: how soft its edge, how strong its colour")
        : m_session.removal() ? tr("Goes to the line of the removal: what it is filled from")
                              : tr("Goes to the line of the local tone"));
}

void StepDetails::refresh()
{
    const Step *step = m_session.step();
    if (!step)
        return;
    const std::string kind = step->shape->kind();
    for (int i = 0; i < m_signs.size(); ++i)
        m_signs[i]->setChecked(i == int(step->sign));
    refreshLimit();
    m_invert->setChecked(step->invert);
    m_strength->setAmount(double(m_session.masked()->strength) * 100);
    m_strength->setVisible(m_session.keep() != nullptr);
    refreshToLine();
    const auto *region = dynamic_cast<const RegionStep *>(step->shape.get());
    m_size->setVisible(region);
    m_growAgain->setVisible(region);
    if (region && !m_size->isDragging())
        m_size->setAmount(double(region->ask().reach) * 100);
    for (const Number &number : m_numbers) {
        const bool shows = number.kind == kind && step->shape->usesNumber(number.index);
        number.slider->setVisible(shows);
        if (shows)
            number.slider->setAmount(double(step->shape->number(number.index)) * number.factor);
    }
    for (const Switch &each : m_switches) {
        each.box->setVisible(each.kind == kind);
        if (each.kind == kind)
            each.box->setChecked(each.get(*step->shape));
    }
}

} // namespace buttonhole::app
