#include "tools/tray.h"

#include "controls/slider.h"
#include "window/theme.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

Tray::Tray(BrushTool &brush, QWidget *parent) : QWidget(parent), m_brush(brush)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 15, 10, 10);
    layout->setSpacing(8);
    setAccessibleName(tr("Tray"));

    auto *tools = new QHBoxLayout;
    auto *pill = new QToolButton(this);
    pill->setText(tr("1  Brush"));
    pill->setToolTip(tr("Paint what stays in colour (1)"));
    pill->setCheckable(true);
    pill->setChecked(true);
    // With one tool there is nothing to switch to; the pill shows which tool is in hand.
    connect(pill, &QToolButton::clicked, pill, [pill] { pill->setChecked(true); });
    pill->setShortcut(Qt::Key_1);
    pill->setProperty("pill", true);
    tools->addWidget(pill);
    tools->addStretch();
    layout->addLayout(tools);

    auto *options = new QHBoxLayout;
    options->setSpacing(5);
    const std::tuple<QString, QString> signs[] = {
        {tr("add"), tr("Bring colour back (A; Ctrl while painting takes it away)")},
        {tr("subtract"), tr("Take colour away (S; Ctrl while painting brings it back)")},
        {tr("only inside"), tr("Keep colour only where you paint (D)")}};
    auto *group = new QButtonGroup(this);
    for (const auto &[text, help] : signs) {
        auto *button = new QToolButton(this);
        button->setText(text);
        button->setToolTip(help);
        button->setCheckable(true);
        group->addButton(button);
        button->setProperty("sign", true);
        const Sign sign = Sign(m_signs.size());
        connect(button, &QToolButton::clicked, this, [this, sign] { m_brush.setSign(sign); });
        options->addWidget(button);
        m_signs.append(button);
    }
    options->addSpacing(10);
    const Tip initial;
    options->addWidget(addSlider(tr("Size"), tr("Diameter of the tip, px of the photo (Q, W)"),
                                 &Tip::sizePx, 1, kMinTipPx, kMaxTipPx, initial.sizePx, {}));
    options->addWidget(addSlider(tr("Softness"), tr("How far the tip's edge fades (Shift+Q, W)"),
                                 &Tip::softness, 100, 0, 100, initial.softness * 100, {}));
    options->addWidget(addSlider(tr("Flow"), tr("How much each dab lays down"), &Tip::flow, 100, 1,
                                 100, initial.flow * 100, {}));
    options->addWidget(addSlider(tr("Opacity"), tr("The most one stroke can reach"), &Tip::opacity,
                                 100, 1, 100, 100, {}));
    m_pressure = new QComboBox(this);
    m_pressure->addItems({tr("pen: nothing"), tr("pen: size"), tr("pen: flow")});
    m_pressure->setAccessibleName(tr("Pen pressure steers"));
    m_pressure->setToolTip(tr("What a tablet pen's pressure steers"));
    connect(m_pressure, &QComboBox::activated, this, [this](int index) {
        Tip tip = m_brush.tip();
        tip.pressure = PressureSteers(index);
        m_brush.setTip(tip);
    });
    options->addWidget(m_pressure);
    layout->addLayout(options);

    connect(&m_brush, &BrushTool::tipChanged, this, &Tray::refresh);
    connect(&m_brush, &BrushTool::signChanged, this, &Tray::refresh);
    refresh();
}

Slider *Tray::addSlider(const QString &name, const QString &help, float Tip::*member, double factor,
                        double least, double most, double initial, const QString &unit)
{
    Slider::Range range;
    range.least = least;
    range.most = most;
    range.initial = initial;
    range.unit = unit;
    range.logarithmic = member == &Tip::sizePx;
    auto *slider = new Slider(name, range, help, this);
    connect(slider, &Slider::amountChanged, this, [this, member, factor](double amount) {
        Tip tip = m_brush.tip();
        tip.*member = float(amount / factor);
        m_brush.setTip(tip);
    });
    m_sliders.append({slider, member, factor});
    return slider;
}

void Tray::refresh()
{
    for (const Bound &bound : m_sliders)
        bound.slider->setAmount(double(m_brush.tip().*bound.member) * bound.factor);
    for (int i = 0; i < m_signs.size(); ++i)
        m_signs[i]->setChecked(i == int(m_brush.sign()));
    m_pressure->setCurrentIndex(int(m_brush.tip().pressure));
}

void Tray::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    drawStitchLine(painter, {4, 7.5}, {width() - 4.0, 7.5});
}

} // namespace buttonhole::app
