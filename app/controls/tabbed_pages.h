#pragma once

#include <QWidget>

class QHBoxLayout;
class QStackedWidget;
class QToolButton;
class QVBoxLayout;

namespace buttonhole::app
{

/// Pages of a line's details, each behind a tab; a page that is too long scrolls.
class TabbedPages : public QWidget
{
    Q_OBJECT
public:
    explicit TabbedPages(QWidget *parent);

    /// One more page and its tab. @return what its controls go into
    QVBoxLayout *add(const QString &name, const QString &help);
    void show(int page);
    int shown() const;

Q_SIGNALS:
    void turned(); ///< another page is shown

private:
    QHBoxLayout *m_row;
    QStackedWidget *m_stack;
    QList<QToolButton *> m_tabs;
};

} // namespace buttonhole::app
