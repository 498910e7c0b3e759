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
    /// Which of the others the canvas shows beside it; null: none.
    void compareWith(std::shared_ptr<const Take> take);
    const std::shared_ptr<const Take> &compared() const { return m_compared; }
    /// With the one before it, or after; ends where it is compared already.
    void toggleComparing();
    void chooseNext(int by); ///< the one beside it, round the ends

Q_SIGNALS:
    void canvasAsked();
    void comparedChanged(); ///< or what it is compared with

private:
    void refresh();
    void choose(size_t index);
    void showMenu(size_t index, const QPoint &at);
    void rename(const QString &name);
    QString nameOf(size_t index) const;
    void checkCompared();

    Session &m_session;
    QHBoxLayout *m_layout;
    QLineEdit *m_name; ///< of the one that is being renamed
    QStringList m_shown;
    size_t m_current = 0;
    std::shared_ptr<const Take> m_compared;
    std::shared_ptr<const Take> m_comparedShown;
};

} // namespace buttonhole::app
