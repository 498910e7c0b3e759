#include "ticket/adjustment_details.h"

#include "commands/move_words.h"
#include "commands/number_words.h"
#include "style/theme.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

/// The adjustments of the selected line.
std::vector<AdjustmentRef> adjustmentsOf(const Session &session)
{
    if (const LocalTone *tone = session.tone())
        return tone->effects;
    if (const AdjustmentLine *line = session.adjustment())
        return {line->adjustment};
    return {};
}

} // namespace

AdjustmentDetails::AdjustmentDetails(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_layout(new QVBoxLayout(this))
{
    m_layout->setContentsMargins(0, 0, 0, 0);
    m_layout->setSpacing(10);
}

void AdjustmentDetails::refresh()
{
    QString kinds = m_session.tone() ? QStringLiteral("tone") : QString();
    for (const AdjustmentRef &each : adjustmentsOf(m_session)) {
        const auto kind = each->kind();
        kinds += QLatin1Char(' ') + QString::fromUtf8(kind.data(), qsizetype(kind.size()));
    }
    if (kinds != m_shown) {
        m_shown = kinds;
        rebuild();
    }
    if (m_actsOn && m_session.tone())
        m_actsOn->setCurrentIndex(int(m_session.tone()->actsOn));
    for (const Bound &bound : m_numbers)
        bound.slider->setAmount(bound.amount());
}

void AdjustmentDetails::rebuild()
{
    m_numbers.clear();
    m_actsOn = nullptr;
    while (QLayoutItem *item = m_layout->takeAt(0)) {
        item->widget()->deleteLater();
        delete item;
    }
    const auto masks = localToneParams(); // its strength is the first
    if (m_session.tone()) {
        addMask(masks.first(1));
        addActsOn();
    }
    const auto adjustments = adjustmentsOf(m_session);
    for (size_t i = 0; i < adjustments.size(); ++i)
        addNumbers(*adjustments[i], i);
    if (!m_session.tone())
        return;
    addHead(tr("Mask"));
    addMask(masks.subspan(1));
}

/// What of the part under its mask a local tone changes.
void AdjustmentDetails::addActsOn()
{
    auto *choice = new QComboBox(this);
    choice->setObjectName(QStringLiteral("actsOn"));
    choice->addItems({tr("Acts on all"), tr("Acts on what is grey"), tr("Acts on what is kept")});
    choice->setAccessibleName(tr("What it acts on"));
    choice->setCurrentIndex(int(m_session.tone()->actsOn));
    connect(choice, &QComboBox::activated, this, [this](int index) {
        m_session.edit(ofMask(m_session, tr("What it acts on")),
                       withTone(*m_session.take(), m_session.line().lineId,
                                [&](LocalTone &tone) { tone.actsOn = ActsOn(index); }));
    });
    m_layout->addWidget(choice);
    m_actsOn = choice;
}

void AdjustmentDetails::addHead(const QString &text)
{
    auto *head = new QLabel(text, this);
    head->setFont(titleFont());
    m_layout->addWidget(head);
}

/// Sliders in pairs from now on; of an odd number the first has a row of its own.
void AdjustmentDetails::beginGroup(size_t count)
{
    auto *group = new QWidget(this);
    m_pairs = new QGridLayout(group);
    m_pairs->setContentsMargins(0, 0, 0, 0);
    m_pairs->setHorizontalSpacing(14);
    m_pairs->setVerticalSpacing(8);
    m_pairs->setColumnStretch(0, 1);
    m_pairs->setColumnStretch(1, 1);
    m_place = count % 2 == 0 ? 0 : -1;
    m_layout->addWidget(group);
}

void AdjustmentDetails::place(QWidget *slider)
{
    if (m_place < 0)
        m_pairs->addWidget(slider, 0, 0, 1, 2);
    else
        m_pairs->addWidget(slider, 1 + m_place / 2, m_place % 2);
    ++m_place;
}

void AdjustmentDetails::addMask(std::span<const Param<LocalTone>> params)
{
    beginGroup(params.size());
    for (const Param<LocalTone> &param : params)
        addSlider(
            {numberWord("tone", param.id), QStringLiteral("tone.") + QLatin1String(param.id),
             Slider::Range::of(param), param.scale.factor},
            [this, &param] {
                const LocalTone *tone = m_session.tone();
                return tone ? param.get(*tone) : 0;
            },
            [this, &param](Take &take, float value) {
                take = withTone(std::move(take), m_session.line().lineId,
                                [&](LocalTone &tone) { param.of(tone) = value; });
            });
}

/// @param index of the adjustment in its line
void AdjustmentDetails::addNumbers(const Adjustment &adjustment, size_t index)
{
    const AdjustmentKind *kind = adjustmentKinds().find(adjustment.kind());
    if (!kind)
        return;
    if (m_session.tone())
        addHead(kindWord(kind->id));
    beginGroup(size_t(std::count_if(kind->numbers.begin(), kind->numbers.end(),
                                    [](const AnyParam &each) { return each.scale.hasSlider; })));
    for (size_t n = 0; n < kind->numbers.size(); ++n) {
        const AnyParam &number = kind->numbers[n];
        if (!number.scale.hasSlider)
            continue;
        addSlider(
            {numberWord(kind->id, number.id),
             QString::fromStdString(std::string(kind->id) + "." + number.id),
             Slider::Range::of(number), number.scale.factor},
            [this, index, n] {
                const auto all = adjustmentsOf(m_session);
                return index < all.size() ? all[index]->number(n) : 0;
            },
            [this, index, n](Take &take, float value) {
                const auto set = [&](AdjustmentRef &each) { each = each->withNumber(n, value); };
                const uint64_t line = m_session.line().lineId;
                take = m_session.tone()
                           ? withTone(std::move(take), line,
                                      [&](LocalTone &tone) { set(tone.effects[index]); })
                           : withLine(std::move(take), line,
                                      [&](AdjustmentLine &each) { set(each.adjustment); });
            });
    }
}

void AdjustmentDetails::addSlider(const Shown &shown, const std::function<float()> &read,
                                  const std::function<void(Take &, float)> &write)
{
    auto *slider = new Slider(shown.name, shown.range, {}, this);
    slider->setObjectName(shown.id);
    const auto number = m_numbers.size();
    connect(
        slider, &Slider::amountChanged, this, [this, slider, shown, write, number](double amount) {
            Take take = *m_session.take();
            write(take, float(amount / shown.factor));
            const LocalTone *tone = m_session.tone();
            const QString where =
                tone ? tr("%1 of %2").arg(shown.name, QString::fromStdString(tone->name))
                     : shown.name;
            m_session.edit(
                where + QLatin1Char(' ') + slider->valueText(), std::move(take),
                QStringLiteral("%1-%2-%3").arg(shown.id).arg(number).arg(m_session.line().lineId));
        });
    connect(slider, &Slider::released, this, [this] { m_session.endMerge(); });
    place(slider);
    m_numbers.append({slider, [read, shown] { return double(read()) * shown.factor; }});
}

} // namespace buttonhole::app
