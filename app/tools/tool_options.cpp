#include "tools/tool_options.h"

#include "commands/number_words.h"
#include "controls/slider.h"
#include "tools/brush_tool.h"
#include "tools/fade_tool.h"
#include "tools/outline_tool.h"
#include "tools/pixel_tools.h"
#include "tools/subject_strip.h"

#include <QActionGroup>
#include <QButtonGroup>
#include <QComboBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QToolButton>

namespace buttonhole::app
{

namespace
{

QString tr(const char *text)
{
    return QCoreApplication::translate("ToolOptions", text);
}

/// A row of widgets.
QWidget *makeRow(QWidget *parent)
{
    auto *page = new QWidget(parent);
    auto *row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(5);
    return page;
}

/// Buttons for the ways to use a tool; one is down, the first to begin with.
/// @param choices their text and tooltip
void addChoice(QWidget *page, const QList<std::pair<QString, QString>> &choices,
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
        QObject::connect(button, &QToolButton::clicked, page, [choose, i] { choose(i); });
        page->layout()->addWidget(button);
    }
}

/// How steady the line is, and what a pen's pressure steers.
QToolButton *makePenButton(BrushTool &brush, QWidget *page)
{
    auto *pen = new QToolButton(page);
    pen->setText(tr("pen"));
    pen->setProperty("sign", true);
    pen->setAccessibleName(tr("Hand and pen"));
    pen->setToolTip(tr("How steady the line is, and what a tablet pen's pressure steers"));
    pen->setPopupMode(QToolButton::InstantPopup);
    auto *menu = new QMenu(pen);
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
    QObject::connect(steady, &QActionGroup::triggered, page,
                     [&brush](QAction *action) { brush.setSteadiness(action->data().toFloat()); });
    pen->setMenu(menu);
    QObject::connect(group, &QActionGroup::triggered, page, [&brush, group](QAction *action) {
        Tip tip = brush.tip();
        tip.pressure = PressureSteers(group->actions().indexOf(action));
        brush.setTip(tip);
    });
    return pen;
}

} // namespace

QWidget *makeBrushOptions(Tool &tool, QWidget *parent)
{
    auto &brush = static_cast<BrushTool &>(tool);
    QWidget *page = makeRow(parent);
    auto *row = static_cast<QHBoxLayout *>(page->layout());
    QList<std::pair<Slider *, const Param<Tip> *>> sliders;
    for (const Param<Tip> &param : tipParams()) {
        if (!param.scale.hasSlider)
            continue;
        const QString name = numberWord("brush", param.id);
        auto *slider =
            new Slider(name, Slider::Range::of(param), numberHelp("brush", param.id), page);
        QObject::connect(slider, &Slider::amountChanged, page, [&brush, &param](double amount) {
            Tip tip = brush.tip();
            param.of(tip) = float(amount / param.scale.factor);
            brush.setTip(tip);
        });
        row->addWidget(slider);
        const int width = 22 + 8 * int(name.size()); // as long as their names
        slider->setMinimumWidth(width);
        row->setStretch(row->count() - 1, width);
        sliders.append({slider, &param});
    }
    QToolButton *pen = makePenButton(brush, page);
    row->addWidget(pen);
    const auto refresh = [&brush, sliders, pen] {
        const Tip &tip = brush.tip();
        for (const auto &[slider, param] : sliders)
            slider->setAmount(double(param->get(tip)) * param->scale.factor);
        pen->menu()->actions()[int(tip.pressure)]->setChecked(true);
    };
    QObject::connect(&brush, &BrushTool::tipChanged, page, refresh);
    refresh();
    return page;
}

QWidget *makeMatchOptions(Tool &tool, QWidget *parent)
{
    QWidget *page = makeRow(parent);
    auto *tip = new QComboBox(page);
    for (const int side : {1, 3, 5, 11, 31})
        tip->addItem(tr("tip: %1 × %1").arg(side), side);
    tip->setCurrentIndex(2);
    tip->setAccessibleName(tr("Tip"));
    tip->setToolTip(tr("A click reads the mean colour of so many pixels"));
    QObject::connect(tip, &QComboBox::activated, page,
                     [&match = static_cast<MatchTool &>(tool), tip] {
                         match.setTipSide(tip->currentData().toInt());
                     });
    page->layout()->addWidget(tip);
    return page;
}

QWidget *makeFadeOptions(Tool &tool, QWidget *parent)
{
    QWidget *page = makeRow(parent);
    addChoice(page,
              {{tr("straight"), tr("From one line to another")},
               {tr("round"), tr("From a middle outwards")}},
              [&fade = static_cast<FadeTool &>(tool)](int index) { fade.setRound(index == 1); });
    return page;
}

QWidget *makeOutlineOptions(Tool &tool, QWidget *parent)
{
    QWidget *page = makeRow(parent);
    addChoice(page,
              {{tr("points"), tr("Click corners; drag a point out of its place to round it")},
               {tr("hug edges"), tr("Between clicks the line follows the edges in the photo")},
               {tr("freehand"), tr("Draw round it in one go")}},
              [&outline = static_cast<OutlineTool &>(tool)](int index) {
                  outline.setWay(OutlineTool::Way(index));
              });
    return page;
}

QWidget *makeSubjectOptions(Tool &tool, QWidget *parent)
{
    QWidget *page = makeRow(parent);
    page->layout()->addWidget(new SubjectStrip(static_cast<SubjectTool &>(tool), page));
    return page;
}

} // namespace buttonhole::app
