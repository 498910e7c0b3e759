#include "ticket/details.h"

#include "controls/slider.h"
#include "window/theme.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

Details::Details(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_title(new QLabel(this)), m_text(new QLabel(this)),
      m_keepPart(new QWidget(this)), m_stepPart(new QWidget(this))
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 10, 16, 8);
    layout->setSpacing(8);
    m_title->setFont(titleFont());
    m_text->setWordWrap(true);
    layout->addWidget(m_title);
    layout->addWidget(m_text);
    layout->addWidget(m_keepPart);
    layout->addWidget(m_stepPart);
    layout->addStretch();
    addKeepControls();
    addStepControls();
    connect(&m_session, &Session::lineChanged, this, &Details::refresh);
    connect(&m_session, &Session::historyChanged, this, &Details::refresh);
    refresh();
}

void Details::addKeepControls()
{
    auto *layout = new QVBoxLayout(m_keepPart);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(10);
    m_name = new QLineEdit(m_keepPart);
    m_name->setProperty("title", true);
    m_name->setAccessibleName(tr("Name of the keep"));
    m_name->setToolTip(tr("Name of the keep; click or F2 to change it"));
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const Keep *keep = m_session.keep();
        const std::string name = m_name->text().trimmed().toStdString();
        if (!keep || name.empty() || name == keep->name)
            return;
        m_session.edit(tr("Keep renamed"),
                       withKeep(*m_session.take(), keep->id, [&](Keep &k) { k.name = name; }), {},
                       {0, 0, 1, 1});
    });
    layout->addWidget(m_name);

    Slider::Range range;
    range.unit = QStringLiteral(" %");
    m_strength =
        new Slider(tr("Strength"), range, tr("How much of the colour comes back"), m_keepPart);
    connect(m_strength, &Slider::amountChanged, this, [this](double amount) {
        const Keep *keep = m_session.keep();
        if (!keep)
            return;
        m_session.edit(tr("Strength"),
                       withKeep(*m_session.take(), keep->id,
                                [&](Keep &k) { k.strength = float(amount / 100); }),
                       QStringLiteral("strength-%1").arg(keep->id));
    });
    connect(m_strength, &Slider::released, this, [this] { m_session.endMerge(); });
    layout->addWidget(m_strength);

    m_invert = new QCheckBox(tr("Everything but this"), m_keepPart);
    m_invert->setToolTip(tr("Keep the colour of all that is not in the mask"));
    connect(m_invert, &QCheckBox::clicked, this, [this](bool on) {
        const Keep *keep = m_session.keep();
        if (keep)
            m_session.edit(on ? tr("Everything but this") : tr("Just this"),
                           withKeep(*m_session.take(), keep->id, [&](Keep &k) { k.invert = on; }));
    });
    layout->addWidget(m_invert);
}

void Details::addStepControls()
{
    auto *layout = new QVBoxLayout(m_stepPart);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(10);
    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    const std::pair<Sign, QString> signs[] = {{Sign::Add, tr("add")},
                                              {Sign::Subtract, tr("subtract")},
                                              {Sign::OnlyInside, tr("only inside")}};
    for (const auto &[sign, text] : signs) {
        auto *button = new QToolButton(m_stepPart);
        button->setText(text);
        button->setCheckable(true);
        button->setAutoExclusive(true);
        button->setProperty("sign", true);
        button->setToolTip(tr("How this step joins the mask made by those above it"));
        connect(button, &QToolButton::clicked, this, [this, sign = sign] {
            const Step *step = m_session.step();
            if (step && step->sign != sign)
                m_session.edit(tr("Step's sign"),
                               withStep(*m_session.take(), m_session.keep()->id, step->id,
                                        [&](Step &s) { s.sign = sign; }));
        });
        row->addWidget(button);
        m_signs.append(button);
    }
    row->addStretch();
    layout->addLayout(row);
    m_remove = new QPushButton(tr("Remove step"), m_stepPart);
    m_remove->setToolTip(tr("Take this step out of the mask (Delete)"));
    connect(m_remove, &QPushButton::clicked, this, [this] {
        if (const Step *step = m_session.step())
            m_session.edit(tr("Step removed"),
                           withoutStep(*m_session.take(), m_session.keep()->id, step->id));
    });
    layout->addWidget(m_remove, 0, Qt::AlignLeft);
}

void Details::startRenaming()
{
    m_name->setFocus();
    m_name->selectAll();
}

void Details::refresh()
{
    const Keep *keep = m_session.keep();
    const Step *step = m_session.step();
    const bool isKeep =
        m_session.hasPhoto() && keep && m_session.line().kind == TicketLine::Kind::Keep;
    m_keepPart->setVisible(isKeep);
    m_stepPart->setVisible(step != nullptr);
    m_title->setVisible(!isKeep);
    m_text->setVisible(!isKeep);
    if (!m_session.hasPhoto()) {
        m_title->clear();
        m_text->clear();
        return;
    }
    if (step) {
        m_title->setText(QString::fromStdString(step->shape->title()));
        m_text->setText(QString::fromStdString(step->shape->summary()));
        for (int i = 0; i < m_signs.size(); ++i)
            m_signs[i]->setChecked(i == int(step->sign));
        return;
    }
    if (isKeep) {
        if (!m_name->hasFocus())
            m_name->setText(QString::fromStdString(keep->name));
        m_strength->setAmount(keep->strength * 100);
        m_invert->setChecked(keep->invert);
        return;
    }
}

} // namespace buttonhole::app
