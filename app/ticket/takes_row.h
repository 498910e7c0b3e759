#pragma once

#include "commands/session.h"

#include <QWidget>

class QHBoxLayout;
class QLineEdit;

namespace buttonhole::app
{

/// The takes of the open work, above the ticket; there once there are two.
class TakesRow : public QWidget
{
    Q_OBJECT
public:
    explicit TakesRow(Session &session, QWidget *parent);

    // Of the take that is worked on, each one move that can be undone.
    void add();  ///< as a photo opens
    void copy(); ///< of this one
    void remove();
    void move(int by);
    void startRenaming();
    void chooseNext(int by); ///< the one beside it, round the ends

Q_SIGNALS:
    void canvasAsked();

private:
    void refresh();
    void choose(size_t index);
    void showMenu(size_t index, const QPoint &at);
    void rename(const QString &name);
    QString nameOf(size_t index) const;

    Session &m_session;
    QHBoxLayout *m_layout;
    QLineEdit *m_name; ///< of the one that is being renamed
    QStringList m_shown;
    size_t m_current = 0;
};

} // namespace buttonhole::app
