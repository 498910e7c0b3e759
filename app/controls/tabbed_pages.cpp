#include "controls/tabbed_pages.h"

#include "controls/snug_scroll.h"

#include <QHBoxLayout>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

TabbedPages::TabbedPages(QWidget *parent)
    : QWidget(parent), m_row(new QHBoxLayout), m_stack(new QStackedWidget(this))
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    m_row->setContentsMargins(0, 0, 16, 0);
    m_row->setSpacing(4);
    m_row->addStretch();
    layout->addLayout(m_row);
    layout->addWidget(m_stack, 1);
}

QVBoxLayout *TabbedPages::add(const QString &name, const QString &help)
{
    auto *tab = new QToolButton(this);
    tab->setText(name);
    tab->setToolTip(help);
    tab->setCheckable(true);
    tab->setAutoExclusive(true);
    tab->setProperty("tab", true);
    const int page = int(m_tabs.size());
    connect(tab, &QToolButton::clicked, this, [this, page] { show(page); });
    m_row->insertWidget(page, tab);
    m_tabs.append(tab);

    auto *content = new QWidget(m_stack);
    content->setAccessibleName(name);
    content->setAccessibleDescription(help);
    auto *layout = new QVBoxLayout(content);
    layout->setContentsMargins(0, 2, 16, 6);
    layout->setSpacing(9);
    auto *scroll = new SnugScroll(content, m_stack);
    scroll->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Expanding);
    m_stack->addWidget(scroll);
    return layout;
}

void TabbedPages::show(int page)
{
    m_tabs[page]->setChecked(true);
    m_stack->setCurrentIndex(page);
    Q_EMIT turned();
}

int TabbedPages::shown() const
{
    return m_stack->currentIndex();
}

} // namespace buttonhole::app
