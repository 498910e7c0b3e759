#include "tools/tray.h"

#include "commands/sign_words.h"
#include "controls/help_text.h"
#include "style/theme.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPainter>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

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
    const auto kinds = toolKinds().all();
    for (qsizetype i = 0; i < m_toolbox.tools().size(); ++i)
        addPage(*m_toolbox.tools()[i], *kinds[size_t(i)]);

    m_greyPage = new HelpText(tr("Drag up or down on the photo: the grey of that hue gets lighter "
                                 "or darker. A tool takes you back to the keep."),
                              this);
    m_options->addWidget(m_greyPage);

    connect(&m_toolbox, &Toolbox::signChanged, this, &Tray::refresh);
    connect(&m_toolbox, &Toolbox::chosen, this, &Tray::refresh);
    refresh();
}

void Tray::addTools(QHBoxLayout *row)
{
    for (Tool *tool : m_toolbox.tools()) {
        auto *pill = new QToolButton(this);
        const QString key = QString::number(m_pills.size() + 1);
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

void Tray::addPage(Tool &tool, const ToolKind &kind)
{
    auto *page = new QWidget(m_options);
    auto *row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(11);
    if (kind.makeOptions)
        row->addWidget(kind.makeOptions(tool, page), kind.explains ? 0 : 1);
    if (kind.explains) { // else the words are in its tooltip alone
        auto *help = new HelpText(tool.help(), page);
        row->addWidget(help, 1);
        m_helps[&tool] = help;
        connect(&tool, &Tool::marksChanged, this, &Tray::refreshHelp);
    }
    m_options->addWidget(page);
    m_pages[&tool] = page;
}

void Tray::refresh()
{
    for (int i = 0; i < m_signs.size(); ++i) {
        m_signs[i]->setChecked(i == int(m_toolbox.sign()));
        m_signs[i]->setVisible(!m_isGrey);
    }
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
