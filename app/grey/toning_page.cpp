// The Grey details' page for toning.
#include "grey/grey_details.h"

#include "controls/slider.h"
#include "controls/tabbed_pages.h"
#include "style/theme.h"
#include "tone/toning_curve.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

void GreyDetails::addTonePart(QVBoxLayout *page, const QString &name, float Toning::*hue,
                              float Toning::*saturation, const char *saturationId)
{
    const auto turn = Slider::Range::of(paramNamed(greyParams(), "toning.shadows.hue"));
    auto *slider = new Slider(tr("%1: hue").arg(name), turn,
                              tr("While it is dragged, the photo shows this colour by itself"),
                              page->parentWidget());
    connect(slider, &Slider::amountChanged, this, [this, slider, hue, saturation](double degrees) {
        if (slider->isDragging())
            judgeTone(hue, saturation, degrees);
        else
            edit(
                tr("Toning"), [&](GreyMix &m) { m.toning.*hue = float(degrees); },
                QStringLiteral("grey-toning-hue"));
    });
    connect(slider, &Slider::released, this, [this, slider, hue] {
        edit(tr("Toning"), [&](GreyMix &m) { m.toning.*hue = float(slider->amount()); });
    });
    m_refreshers.append(
        [slider, hue](const GreyMix &m) { slider->setAmount(double(m.toning.*hue)); });
    page->addWidget(slider);
    addNumber(page, tr("%1: saturation").arg(name), tr("How strong the colour is"), saturationId);
}

void GreyDetails::judgeTone(float Toning::*hue, float Toning::*saturation, double hueDeg)
{
    constexpr float kWellVisible = 60;
    Take take = m_session.work().take();
    Toning &toning = take.grey.toning;
    const float own = toning.*saturation;
    toning.shadowSaturation = toning.highlightSaturation = 0;
    toning.*hue = float(hueDeg);
    toning.*saturation = std::max(own, kWellVisible);
    take.grey.strength = 1;
    m_session.showLive(std::move(take), {});
}

void GreyDetails::addToning()
{
    QVBoxLayout *page = m_pages->add(tr("Toning"), tr("A colour laid over the grey"));
    auto *grid = new QGridLayout;
    grid->setSpacing(5);
    const auto addReady = [&](const QString &name, const Toning &toning, int index) {
        auto *button = new QToolButton(page->parentWidget());
        button->setText(name);
        button->setToolTip(tr("Lay this tone over the grey"));
        button->setCheckable(true);
        button->setProperty("sign", true);
        button->setProperty("snug", true);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        connect(button, &QToolButton::clicked, this, [this, name, toning] {
            edit(
                tr("Toning"),
                [&](GreyMix &m) {
                    const bool overKeeps = m.toning.overKeeps;
                    m.toning = toning;
                    m.toning.overKeeps = overKeeps;
                },
                {}, name);
        });
        m_refreshers.append([button, toning](const GreyMix &m) {
            Toning same = m.toning;
            same.overKeeps = toning.overKeeps;
            button->setChecked(toning.isOff() ? same.isOff() : same == toning);
        });
        grid->addWidget(button, index / 3, index % 3);
    };
    addReady(tr("None"), {}, 0);
    int index = 1;
    for (const ReadyTone &tone : readyTones())
        addReady(QString::fromLatin1(tone.name), tone.toning, index++);
    page->addLayout(grid);
    addTonePart(page, tr("Shadows"), &Toning::shadowHueDeg, &Toning::shadowSaturation,
                "toning.shadows.saturation");
    addTonePart(page, tr("Highlights"), &Toning::highlightHueDeg, &Toning::highlightSaturation,
                "toning.highlights.saturation");
    addNumber(page, tr("Balance"), tr("Where the two colours meet"), "toning.balance");
    addSwitch(
        page, tr("Tone the kept colours too"), tr("Off: what stays in colour stays as it was"),
        [](const GreyMix &m) { return m.toning.overKeeps; },
        [](GreyMix &m, bool on) { m.toning.overKeeps = on; });
    page->addStretch();
}

} // namespace buttonhole::app
