#include "tools/tray.h"

#include "commands/sign_words.h"
#include "controls/help_text.h"
#include "controls/slider.h"
#include "tools/subject_strip.h"
#include "window/theme.h"

#include <QActionGroup>
#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

QWidget *makePage(QHBoxLayout *&row)
{
    auto *page = new QWidget;
    row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(5);
    return page;
}

} // namespace

Tray::Tray(Toolbox &toolbox, QWidget *parent) : QWidget(parent), m_toolbox(toolbox)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 15, 10, 10);
    layout->setSpacing(8);
    setAccessibleName(tr("Tray"));
    auto *tools = new QHBoxLayout;
    tools->setSpacing(3);
    addTools(tools);
    layout->addLayout(tools);

    auto *options = new QHBoxLayout;
    options->setSpacing(5);
    addSigns(options);
    options->addSpacing(10);
    m_options = new QStackedWidget(this);
    m_options->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_options->setFixedHeight(36); // two lines of help, or a row of sliders
    options->addWidget(m_options, 1);
    layout->addLayout(options);
    addPage(m_toolbox.brush(), brushPage());
    addPage(m_toolbox.match(), matchPage());
    addPage(m_toolbox.outline(), outlinePage());
    addPage(m_toolbox.fade(), fadePage());
    QHBoxLayout *subject = nullptr;
    QWidget *subjectPage = makePage(subject);
    subject->addWidget(new SubjectStrip(m_toolbox.subject(), subjectPage));
    addPage(m_toolbox.subject(), subjectPage);
    for (Tool *tool : m_toolbox.tools())
        if (!m_pages.contains(tool)) {
            QHBoxLayout *none = nullptr;
            addPage(*tool, makePage(none));
        }

    QHBoxLayout *grey = nullptr;
    m_greyPage = makePage(grey);
    grey->addWidget(
        new HelpText(tr("Drag up or down on the photo: the grey of that hue gets lighter "
                        "or darker. A tool takes you back to the keep."),
                     m_greyPage),
        1);
    m_options->addWidget(m_greyPage);

    connect(&m_toolbox.brush(), &BrushTool::tipChanged, this, &Tray::refresh);
    connect(&m_toolbox, &Toolbox::signChanged, this, &Tray::refresh);
    connect(&m_toolbox, &Toolbox::chosen, this, &Tray::refresh);
    refresh();
}

void Tray::addTools(QHBoxLayout *row)
{
    for (Tool *tool : m_toolbox.tools()) {
        auto *pill = new QToolButton(this);
        const QString key = QString::number(m_toolbox.keyOf(*tool));
        pill->setText(key + QStringLiteral("  ") + tool->name());
        pill->setToolTip(tool->help() + QStringLiteral(" (") + key + QStringLiteral(")"));
        pill->setAccessibleName(tool->name());
        pill->setCheckable(true);
        pill->setProperty("pill", true);
        connect(pill, &QToolButton::clicked, this, [this, tool] {
            m_toolbox.takeUp(*tool);
            refresh();
        });
        row->addWidget(pill);
        m_pills[tool] = pill;
    }
    row->addStretch();
}

void Tray::addSigns(QHBoxLayout *row)
{
    auto *group = new QButtonGroup(this);
    for (const SignWords &words : signWords()) {
        auto *button = new QToolButton(this);
        button->setText(words.word);
        button->setToolTip(words.help);
        button->setCheckable(true);
        group->addButton(button);
        button->setProperty("sign", true);
        connect(button, &QToolButton::clicked, this,
                [this, sign = words.sign] { m_toolbox.setSign(sign); });
        row->addWidget(button);
        m_signs.append(button);
    }
}

void Tray::addPage(Tool &tool, QWidget *page)
{
    // A tool with options of its own has no room for words: they are in its tooltip.
    if (&tool != &m_toolbox.brush() && &tool != &m_toolbox.subject()) {
        auto *row = static_cast<QHBoxLayout *>(page->layout());
        if (row->count() > 0)
            row->addSpacing(6);
        auto *help = new HelpText(tool.help(), page);
        row->addWidget(help, 1);
        m_helps[&tool] = help;
        connect(&tool, &Tool::marksChanged, this, &Tray::refreshHelp);
    }
    m_options->addWidget(page);
    m_pages[&tool] = page;
}

QWidget *Tray::brushPage()
{
    QHBoxLayout *row = nullptr;
    QWidget *page = makePage(row);
    const Tip initial;
    row->addWidget(addSlider(page, tr("Size"), tr("Diameter of the tip, px of the photo (Q, W)"),
                             &Tip::sizePx, 1, kMinTipPx, kMaxTipPx, initial.sizePx));
    row->addWidget(addSlider(page, tr("Softness"), tr("How far the tip's edge fades (Shift+Q, W)"),
                             &Tip::softness, 100, 0, 100, initial.softness * 100));
    row->addWidget(addSlider(page, tr("Flow"), tr("How much each dab lays down"), &Tip::flow, 100,
                             1, 100, initial.flow * 100));
    row->addWidget(addSlider(page, tr("Opacity"), tr("The most one stroke can reach"),
                             &Tip::opacity, 100, 1, 100, 100));
    row->addWidget(
        addSlider(page, tr("Edges"),
                  tr("Hold to edges: paint only what belongs with the middle of the tip; "
                     "more is stricter, 0 goes over edges (E)"),
                  &Tip::edgeHold, 100, 0, 100, 0));
    m_pressure = new QToolButton(page);
    m_pressure->setText(tr("pen"));
    m_pressure->setProperty("sign", true);
    m_pressure->setAccessibleName(tr("Hand and pen"));
    m_pressure->setToolTip(tr("How steady the line is, and what a tablet pen's pressure steers"));
    m_pressure->setPopupMode(QToolButton::InstantPopup);
    auto *menu = new QMenu(m_pressure);
    auto *group = new QActionGroup(menu);
    for (const QString &text : {tr("Pressure steers nothing"), tr("Pressure steers size"),
                                tr("Pressure steers flow"), tr("Pressure steers softness")}) {
        QAction *action = menu->addAction(text);
        action->setCheckable(true);
        group->addAction(action);
    }
    menu->addSeparator();
    auto *steady = new QActionGroup(menu);
    const std::pair<QString, float> hands[] = {{tr("The line follows at once"), 0.0F},
                                               {tr("A steady hand: the line lags a little"), 0.5F},
                                               {tr("Very steady: it lags far"), 0.9F}};
    for (const auto &[text, steadiness] : hands) {
        QAction *action = menu->addAction(text);
        action->setCheckable(true);
        action->setChecked(steadiness == 0);
        action->setData(steadiness);
        steady->addAction(action);
    }
    connect(steady, &QActionGroup::triggered, this,
            [this](QAction *action) { m_toolbox.brush().setSteadiness(action->data().toFloat()); });
    m_pressure->setMenu(menu);
    connect(group, &QActionGroup::triggered, this, [this, group](QAction *action) {
        Tip tip = m_toolbox.brush().tip();
        tip.pressure = PressureSteers(group->actions().indexOf(action));
        m_toolbox.brush().setTip(tip);
    });
    row->addWidget(m_pressure);
    constexpr int kWidths[] = {56, 84, 54, 82, 54}; // as long as their names
    for (int i = 0; i < int(std::size(kWidths)); ++i) {
        row->itemAt(i)->widget()->setMinimumWidth(kWidths[i]);
        row->setStretch(i, kWidths[i]);
    }
    return page;
}

QWidget *Tray::matchPage()
{
    QHBoxLayout *row = nullptr;
    QWidget *page = makePage(row);
    auto *tip = new QComboBox(page);
    for (const int side : {1, 3, 5, 11, 31})
        tip->addItem(tr("tip: %1 × %1").arg(side), side);
    tip->setCurrentIndex(2);
    tip->setAccessibleName(tr("Tip"));
    tip->setToolTip(tr("A click reads the mean colour of so many pixels"));
    connect(tip, &QComboBox::activated, this,
            [this, tip] { m_toolbox.match().setTipSide(tip->currentData().toInt()); });
    row->addWidget(tip);
    return page;
}

void Tray::addChoice(QWidget *page, const QList<std::pair<QString, QString>> &choices,
                     const std::function<void(int index)> &choose)
{
    auto *group = new QButtonGroup(page);
    for (int i = 0; i < choices.size(); ++i) {
        auto *button = new QToolButton(page);
        button->setText(choices[i].first);
        button->setToolTip(choices[i].second);
        button->setCheckable(true);
        button->setChecked(i == 0);
        button->setProperty("sign", true);
        group->addButton(button);
        connect(button, &QToolButton::clicked, this, [this, choose, i] {
            choose(i);
            refreshHelp();
        });
        page->layout()->addWidget(button);
    }
}

QWidget *Tray::fadePage()
{
    QHBoxLayout *row = nullptr;
    QWidget *page = makePage(row);
    addChoice(page,
              {{tr("straight"), tr("From one line to another")},
               {tr("round"), tr("From a middle outwards")}},
              [this](int index) { m_toolbox.fade().setRound(index == 1); });
    return page;
}

QWidget *Tray::outlinePage()
{
    QHBoxLayout *row = nullptr;
    QWidget *page = makePage(row);
    addChoice(page,
              {{tr("points"), tr("Click corners; drag a point out of its place to round it")},
               {tr("hug edges"), tr("Between clicks the line follows the edges in the photo")},
               {tr("freehand"), tr("Draw round it in one go")}},
              [this](int index) { m_toolbox.outline().setWay(OutlineTool::Way(index)); });
    return page;
}

Slider *Tray::addSlider(QWidget *page, const QString &name, const QString &help, float Tip::*member,
                        double factor, double least, double most, double initial)
{
    Slider::Range range;
    range.least = least;
    range.most = most;
    range.initial = initial;
    range.logarithmic = member == &Tip::sizePx;
    auto *slider = new Slider(name, range, help, page);
    connect(slider, &Slider::amountChanged, this, [this, member, factor](double amount) {
        Tip tip = m_toolbox.brush().tip();
        tip.*member = float(amount / factor);
        m_toolbox.brush().setTip(tip);
    });
    m_sliders.append({slider, member, factor});
    return slider;
}

void Tray::refresh()
{
    const Tip &tip = m_toolbox.brush().tip();
    for (const Bound &bound : m_sliders)
        bound.slider->setAmount(double(tip.*bound.member) * bound.factor);
    for (int i = 0; i < m_signs.size(); ++i) {
        m_signs[i]->setChecked(i == int(m_toolbox.sign()));
        m_signs[i]->setVisible(!m_isGrey);
    }
    m_pressure->menu()->actions()[int(tip.pressure)]->setChecked(true);
    for (auto it = m_pills.cbegin(); it != m_pills.cend(); ++it)
        it.value()->setChecked(!m_isGrey && it.key() == &m_toolbox.current());
    m_options->setCurrentWidget(m_isGrey ? m_greyPage : m_pages.value(&m_toolbox.current()));
    refreshHelp();
}

void Tray::setGrey(bool isGrey)
{
    m_isGrey = isGrey;
    refresh();
}

void Tray::refreshHelp()
{
    if (HelpText *help = m_helps.value(&m_toolbox.current()))
        help->setText(m_toolbox.current().help());
}

void Tray::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    drawStitchLine(painter, {4, 7.5}, {width() - 4.0, 7.5});
}

} // namespace buttonhole::app
