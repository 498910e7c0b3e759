#include "ticket/step_details.h"

#include "commands/move_words.h"
#include "commands/sign_words.h"
#include "controls/slider.h"
#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/region_step.h"
#include "mask/tone_window.h"

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

ToneRange tonesOf(const ToneWindowStep &step)
{
    return ToneRange(step.lightness());
}

Match matchOf(const MatchStep &step)
{
    return step.match();
}

Fade fadeOf(const FadeStep &step)
{
    return step.fade();
}

template <class Data>
Data &same(Data &data)
{
    return data;
}

ColourRange &rangeIn(ColourWindow &window)
{
    return window.range;
}

} // namespace

StepDetails::StepDetails(Session &session, QWidget *parent) : QWidget(parent), m_session(session)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    addSigns();
    addLimit();
    addColourWindow();
    addToneWindow();
    addMatch();
    addFade();
    addRegion();
    m_invert = new QCheckBox(tr("Everything but this"), this);
    m_invert->setToolTip(tr("The step covers all that is not in its shape (Ctrl+Shift+K)"));
    connect(m_invert, &QCheckBox::clicked, this, [this] { m_session.invertLine(); });
    layout->addWidget(m_invert);
    m_strength = new Slider(
        tr("Strength of the keep"), Slider::Range::of(paramNamed(keepParams(), "strength")),
        tr("How much of the colour comes back, in all that the keep covers"), this);
    connect(m_strength, &Slider::amountChanged, this, [this](double amount) {
        if (const Keep *keep = m_session.keep())
            m_session.edit(ofKeep(m_session, tr("Strength"), m_strength->valueText()),
                           withKeep(*m_session.take(), keep->id,
                                    [&](Keep &k) { k.strength = float(amount / 100); }),
                           QStringLiteral("strength-%1").arg(keep->id));
    });
    connect(m_strength, &Slider::released, this, [this] { m_session.endMerge(); });
    layout->addWidget(m_strength);
    auto *remove = new QPushButton(tr("Remove step"), this);
    remove->setToolTip(tr("Take this step out of the mask (Delete)"));
    connect(remove, &QPushButton::clicked, this, [this] {
        if (const Step *step = m_session.step())
            m_session.edit(ofStep(m_session, tr("Removal")),
                           withoutStep(*m_session.take(), m_session.keep()->id, step->id));
    });
    auto *toKeep = new QPushButton(tr("Edge and colour"), this);
    toKeep->setToolTip(
        tr("Goes to the line of the keep: how soft its edge, how strong its colour"));
    connect(toKeep, &QPushButton::clicked, this, [this] {
        if (const Keep *keep = m_session.keep())
            m_session.select({TicketLine::Kind::Keep, keep->id});
    });
    auto *row = new QHBoxLayout;
    row->addWidget(remove);
    row->addWidget(toKeep);
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
                               withStep(*m_session.take(), m_session.keep()->id, step->id,
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
                           withStep(*m_session.take(), m_session.keep()->id, step->id,
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
    const auto &steps = m_session.keep()->steps;
    for (size_t i = 0; i < steps.size() && steps[i].id != step->id; ++i)
        m_limit->addItem(
            tr("Inside step %1, %2").arg(i + 1).arg(QString::fromStdString(steps[i].title())),
            QVariant::fromValue<qulonglong>(steps[i].id));
    int at = m_limit->findData(QVariant::fromValue<qulonglong>(step->insideOf));
    if (at < 0) { // removed, or moved behind this one
        const Step *other = m_session.keep()->findStep(step->insideOf);
        m_limit->addItem(
            other ? tr("Inside a later step, %1").arg(QString::fromStdString(other->title()))
                  : tr("Anywhere (its step is gone)"),
            QVariant::fromValue<qulonglong>(step->insideOf));
        at = m_limit->count() - 1;
    }
    m_limit->setCurrentIndex(at);
}

template <class StepType, class Data, class Part>
void StepDetails::addNumber(const char *kind, const QString &name, const QString &help,
                            const Param<Part> &param, Data (*dataOf)(const StepType &),
                            Part &(*partOf)(Data &), std::function<bool(const Data &)> applies)
{
    auto *slider = new Slider(name, Slider::Range::of(param), help, this);
    slider->setObjectName(QString::fromLatin1(kind) + QLatin1Char('.') +
                          QString::fromLatin1(param.id));
    connect(
        slider, &Slider::amountChanged, this, [this, dataOf, partOf, &param, name](double amount) {
            const Step *step = m_session.step();
            const auto *shape = step ? dynamic_cast<const StepType *>(step->shape.get()) : nullptr;
            if (!shape)
                return;
            Data values = dataOf(*shape);
            param.of(partOf(values)) = float(amount / param.scale.factor);
            put(name, shape->with(values), QString::fromLatin1(param.id));
        });
    connect(slider, &Slider::released, this, [this] { m_session.endMerge(); });
    layout()->addWidget(slider);
    m_numbers.append({slider, kind, [=, &param](const StepShape &shape) -> double {
                          Data values = dataOf(static_cast<const StepType &>(shape));
                          if (applies && !applies(values))
                              return std::nan("");
                          return double(param.get(partOf(values))) * param.scale.factor;
                      }});
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

void StepDetails::addColourWindow()
{
    constexpr const char *kKind = "colour-window";
    using W = ColourWindow;
    const auto add = [&](const char *id, const QString &name, const QString &help,
                         std::function<bool(const W &)> applies = {}) {
        addNumber(kKind, name, help, paramNamed(colourRangeParams(), id), windowOf, rangeIn,
                  std::move(applies));
    };
    add("hueDeg", tr("Hue"), tr("The middle of the hues that join"));
    add("hueWidthDeg", tr("Width"), tr("How many degrees of hue join fully"));
    add("hueSoftDeg", tr("Soft"), tr("Over how many degrees the hue fades out"));
    add("chroma.least", tr("Least chroma"), tr("Colours weaker than this stay grey"));
    addSwitch<ColourWindowStep, W>(
        kKind, tr("Follow shading"),
        tr("Lit and shaded parts of one thing both join: lightness runs free"), windowOf,
        &W::followsShading);
    const auto byLightness = [](const W &w) { return !w.followsShading; };
    add("lightness.least", tr("Darkest"), tr("Darker parts stay grey"), byLightness);
    add("lightness.most", tr("Lightest"), tr("Lighter parts stay grey"), byLightness);
    addSwitch<ColourWindowStep, W>(kKind, tr("Connected"),
                                   tr("Only what joins the places that were clicked"), windowOf,
                                   &W::isConnected);
}

void StepDetails::addToneWindow()
{
    const auto add = [&](const char *id, const QString &name, const QString &help) {
        addNumber("tone-window", name, help, paramNamed(toneRangeParams(), id), tonesOf,
                  same<ToneRange>);
    };
    add("least", tr("Darkest"), tr("Darker parts stay out"));
    add("most", tr("Lightest"), tr("Lighter parts stay out"));
    add("soft", tr("Soft"), tr("Over how much lightness it fades"));
}

void StepDetails::addMatch()
{
    constexpr const char *kKind = "match";
    addNumber(kKind, tr("Reach"), tr("How unlike the clicked colours a pixel may be"),
              paramNamed(matchParams(), "reach"), matchOf, same<Match>);
    addNumber(kKind, tr("Soft"), tr("Over how much of the reach it fades"),
              paramNamed(matchParams(), "soft"), matchOf, same<Match>);
    addSwitch<MatchStep, Match>(kKind, tr("Connected"),
                                tr("Only what joins the places that were clicked"), matchOf,
                                &Match::isConnected);
}

void StepDetails::addFade()
{
    addNumber("fade", tr("Feather"), tr("Share of the way over which it fades"),
              paramNamed(fadeParams(), "feather"), fadeOf, same<Fade>);
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
                   withStep(*m_session.take(), m_session.keep()->id, step->id,
                            [&](Step &s) { s.shape = shape; }),
                   mergeKey.isEmpty() ? QString() : mergeKey + QStringLiteral("-%1").arg(step->id));
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
    m_strength->setAmount(double(m_session.keep()->strength) * 100);
    const auto *region = dynamic_cast<const RegionStep *>(step->shape.get());
    m_size->setVisible(region);
    m_growAgain->setVisible(region);
    if (region && !m_size->isDragging())
        m_size->setAmount(double(region->ask().reach) * 100);
    for (const Number &number : m_numbers) {
        const double value = number.kind == kind ? number.get(*step->shape) : std::nan("");
        number.slider->setVisible(!std::isnan(value));
        if (!std::isnan(value))
            number.slider->setAmount(value);
    }
    for (const Switch &each : m_switches) {
        each.box->setVisible(each.kind == kind);
        if (each.kind == kind)
            each.box->setChecked(each.get(*step->shape));
    }
}

} // namespace buttonhole::app
