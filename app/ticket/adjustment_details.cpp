#include "ticket/adjustment_details.h"

#include "commands/adjustment_words.h"
#include "controls/slider.h"
#include "window/theme.h"

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
    for (const Bound &bound : m_numbers)
        bound.slider->setAmount(bound.amount());
}

void AdjustmentDetails::rebuild()
{
    m_numbers.clear();
    while (QLayoutItem *item = m_layout->takeAt(0)) {
        item->widget()->deleteLater();
        delete item;
    }
    if (m_session.tone())
        addMask();
    const auto adjustments = adjustmentsOf(m_session);
    for (size_t i = 0; i < adjustments.size(); ++i)
        addNumbers(*adjustments[i], i);
}

void AdjustmentDetails::addMask()
{
    for (const Param<LocalTone> &param : localToneParams()) {
        const QString name = numberWord("tone", param.id);
        auto *slider = new Slider(name, Slider::Range::of(param), {}, this);
        slider->setObjectName(QStringLiteral("tone.") + QLatin1String(param.id));
        const double factor = param.scale.factor;
        connect(slider, &Slider::amountChanged, this, [this, name, factor, &param](double amount) {
            const uint64_t id = m_session.line().keepId;
            change(name, QString::fromLatin1(param.id), [&](Take &take) {
                take = withTone(std::move(take), id,
                                [&](LocalTone &tone) { param.of(tone) = float(amount / factor); });
            });
        });
        connect(slider, &Slider::released, this, [this] { m_session.endMerge(); });
        m_layout->addWidget(slider);
        m_numbers.append({slider, [this, factor, &param] {
                              const LocalTone *tone = m_session.tone();
                              return tone ? double(param.get(*tone)) * factor : 0;
                          }});
    }
}

/// @param index of the adjustment in its line
void AdjustmentDetails::addNumbers(const Adjustment &adjustment, size_t index)
{
    const AdjustmentKind *kind = findAdjustmentKind(adjustment.kind());
    if (!kind)
        return;
    auto *head = new QLabel(kindWord(kind->id), this);
    head->setFont(titleFont());
    m_layout->addWidget(head);
    head->setVisible(m_session.tone() != nullptr);
    for (size_t n = 0; n < kind->numbers.size(); ++n) {
        const AdjustmentNumber &number = kind->numbers[n];
        const QString name = numberWord(kind->id, number.id);
        const QString id = QString::fromStdString(std::string(kind->id) + "." + number.id);
        auto *slider =
            new Slider(name,
                       Slider::Range::of(number.scale, double(number.leastShown()),
                                         double(number.mostShown()), double(number.initial)),
                       {}, this);
        slider->setObjectName(id);
        const double factor = number.scale.factor;
        connect(slider, &Slider::amountChanged, this, [this, name, id, index, n, factor](double a) {
            const auto set = [&](AdjustmentRef &each) {
                each = each->withNumber(n, float(a / factor));
            };
            const uint64_t line = m_session.line().keepId;
            change(name, QStringLiteral("%1-%2").arg(id).arg(index), [&](Take &take) {
                take = m_session.tone()
                           ? withTone(std::move(take), line,
                                      [&](LocalTone &tone) { set(tone.effects[index]); })
                           : withLine(std::move(take), line,
                                      [&](AdjustmentLine &each) { set(each.adjustment); });
            });
        });
        connect(slider, &Slider::released, this, [this] { m_session.endMerge(); });
        m_layout->addWidget(slider);
        m_numbers.append({slider, [this, index, n, factor] {
                              const auto all = adjustmentsOf(m_session);
                              return index < all.size() ? double(all[index]->number(n)) * factor
                                                        : 0;
                          }});
    }
}

void AdjustmentDetails::change(const QString &name, const QString &key,
                               const std::function<void(Take &)> &what)
{
    Take take = *m_session.take();
    what(take);
    const LocalTone *tone = m_session.tone();
    m_session.edit(tone ? tr("%1 of %2").arg(name, QString::fromStdString(tone->name)) : name,
                   std::move(take), QStringLiteral("%1-%2").arg(key).arg(m_session.line().keepId));
}

} // namespace buttonhole::app
