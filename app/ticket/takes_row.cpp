#include "ticket/takes_row.h"

#include "controls/plain_tip.h"
#include "document/takes.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QToolButton>

#include <algorithm>

namespace buttonhole::app
{

TakesRow::TakesRow(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_layout(new QHBoxLayout(this)),
      m_name(new QLineEdit(this))
{
    setObjectName(QStringLiteral("takes"));
    m_layout->setContentsMargins(12, 0, 8, 2);
    m_layout->setSpacing(2);
    m_name->setObjectName(QStringLiteral("takeName"));
    m_name->setAccessibleName(tr("Name of the take"));
    m_name->setMaxLength(60);
    m_name->hide();
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        if (m_name->isVisible())
            rename(m_name->text().trimmed());
    });
    hide();
    connect(&session, &Session::historyChanged, this, &TakesRow::refresh);
}

QString TakesRow::nameOf(size_t index) const
{
    return QString::fromStdString(m_session.work().takes.at(index)->name);
}

void TakesRow::compareWith(std::shared_ptr<const Take> take)
{
    if (take == m_compared)
        return;
    m_compared = std::move(take);
    if (!m_compared)
        Q_EMIT comparedChanged();
    refresh();
}

void TakesRow::toggleComparing()
{
    const Work &work = m_session.work();
    if (m_compared || !m_session.hasPhoto() || work.takes.size() < 2)
        return compareWith(nullptr);
    compareWith(work.takes[work.current > 0 ? work.current - 1 : 1]);
}

/// One that is gone, or worked on, is no longer compared with.
void TakesRow::checkCompared()
{
    const auto &takes = m_session.work().takes;
    const bool isThere =
        m_session.hasPhoto() && std::find(takes.begin(), takes.end(), m_compared) != takes.end();
    if (m_compared && (!isThere || takes[m_session.work().current] == m_compared))
        compareWith(nullptr);
}

void TakesRow::refresh()
{
    checkCompared();
    QStringList names;
    const auto &takes = m_session.work().takes;
    if (m_session.hasPhoto() && takes.size() > 1)
        for (size_t i = 0; i < takes.size(); ++i)
            names += nameOf(i);
    if (names == m_shown && m_session.work().current == m_current && m_compared == m_comparedShown)
        return;
    m_comparedShown = m_compared;
    if (m_compared)
        Q_EMIT comparedChanged(); // names, or the other side
    m_shown = names;
    m_current = m_session.work().current;
    while (QLayoutItem *item = m_layout->takeAt(0)) {
        if (QWidget *widget = item->widget(); widget && widget != m_name)
            widget->deleteLater();
        delete item;
    }
    setVisible(!names.isEmpty());
    const auto add = [&](const QString &text, const QString &id) {
        auto *button = new QToolButton(this);
        button->setObjectName(id);
        button->setText(text);
        button->setProperty("tab", true);
        m_layout->addWidget(button);
        return button;
    };
    constexpr int kMostLetters = 14;
    for (int i = 0; i < names.size(); ++i) {
        const QString &name = names[i];
        const bool isLong = name.size() > kMostLetters;
        QToolButton *button = add(isLong ? name.left(kMostLetters - 1) + u'…' : name,
                                  QStringLiteral("take%1").arg(i));
        button->setCheckable(true);
        button->setChecked(size_t(i) == m_current);
        const bool isCompared = m_compared && m_session.work().takes[size_t(i)] == m_compared;
        button->setProperty("compared", isCompared);
        button->setToolTip(isCompared ? tr("Compared with the one that is worked on")
                                      : plainTip(name));
        button->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(button, &QToolButton::clicked, this, [this, i] { choose(size_t(i)); });
        connect(
            button, &QToolButton::customContextMenuRequested, this,
            [this, i, button](const QPoint &at) { showMenu(size_t(i), button->mapToGlobal(at)); });
    }
    if (!names.isEmpty()) {
        QToolButton *plus = add(QStringLiteral("+"), QStringLiteral("takeCopy"));
        plus->setToolTip(tr("Another take, that begins as this one"));
        connect(plus, &QToolButton::clicked, this, &TakesRow::copy);
    }
    m_layout->addStretch();
}

void TakesRow::choose(size_t index)
{
    if (index == m_session.work().current) {
        m_current = index + 1; // the button that was clicked is down again
        return refresh();
    }
    const auto before = m_session.work().takes[m_session.work().current];
    const bool swaps = m_compared == m_session.work().takes[index];
    m_session.editWork(tr("To %1").arg(nameOf(index)), withCurrentTake(m_session.work(), index),
                       QStringLiteral("to-take"));
    if (swaps) // both stay in sight
        compareWith(before);
    Q_EMIT canvasAsked();
}

void TakesRow::chooseNext(int by)
{
    const auto count = int(m_session.work().takes.size());
    if (m_session.hasPhoto() && count > 1)
        choose(size_t((int(m_session.work().current) + by + count) % count));
}

void TakesRow::add()
{
    if (m_session.hasPhoto())
        m_session.editWork(
            tr("New take"),
            withNewTake(m_session.work(), makeWork(m_session.levels()->photo()).take()));
}

void TakesRow::copy()
{
    if (m_session.hasPhoto())
        m_session.editWork(tr("Copy of %1").arg(nameOf(m_session.work().current)),
                           withCopyOfTake(m_session.work()));
}

void TakesRow::remove()
{
    const Work &work = m_session.work();
    if (m_session.hasPhoto() && work.takes.size() > 1)
        m_session.editWork(tr("%1 deleted").arg(nameOf(work.current)),
                           withoutTake(work, work.current));
}

void TakesRow::move(int by)
{
    const Work &work = m_session.work();
    const auto to = int(work.current) + by;
    if (m_session.hasPhoto() && to >= 0 && to < int(work.takes.size()))
        m_session.editWork(tr("Place of %1").arg(nameOf(work.current)),
                           withTakeAt(work, work.current, size_t(to)));
}

void TakesRow::startRenaming()
{
    if (!m_session.hasPhoto())
        return;
    setVisible(true); // one take alone has a name, too
    m_layout->insertWidget(0, m_name);
    m_name->setText(nameOf(m_session.work().current));
    m_name->show();
    m_name->setFocus();
    m_name->selectAll();
}

void TakesRow::rename(const QString &name)
{
    m_name->hide();
    m_layout->removeWidget(m_name);
    const size_t current = m_session.work().current;
    if (!name.isEmpty() && name != nameOf(current))
        m_session.editWork(tr("Take named %1").arg(name),
                           withTakeNamed(m_session.work(), current, name.toStdString()));
    setVisible(!m_shown.isEmpty());
    Q_EMIT canvasAsked();
}

void TakesRow::showMenu(size_t index, const QPoint &at)
{
    choose(index);
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("takeMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Rename"), this, &TakesRow::startRenaming);
    menu->addAction(tr("Copy"), this, &TakesRow::copy);
    menu->addAction(tr("Earlier"), this, [this] { move(-1); })->setEnabled(index > 0);
    menu->addAction(tr("Later"), this, [this] { move(1); })
        ->setEnabled(index + 1 < m_session.work().takes.size());
    menu->addSeparator();
    const auto &takes = m_session.work().takes;
    for (size_t i = 0; i < takes.size(); ++i)
        if (i != index) {
            QAction *each = menu->addAction(
                tr("Compare with %1").arg(nameOf(i)), this,
                [this, take = takes[i]] { compareWith(m_compared == take ? nullptr : take); });
            each->setCheckable(true);
            each->setChecked(m_compared == takes[i]);
        }
    menu->addSeparator();
    menu->addAction(tr("Delete"), this, &TakesRow::remove);
    menu->popup(at);
}

} // namespace buttonhole::app
