#pragma once

#include "commands/safe_copy.h"

#include <QDialog>

class QListWidget;

namespace buttonhole::app
{

/// Lists the work that windows left when they did not close as they should: each can be taken up,
/// thrown away or left for another time.
class LeftDialog : public QDialog
{
    Q_OBJECT
public:
    explicit LeftDialog(const QList<LeftWork> &left, QWidget *parent = nullptr);

Q_SIGNALS:
    void takeAsked(const buttonhole::app::LeftWork &work);
    void throwAsked(const buttonhole::app::LeftWork &work);

private:
    void throwAway();

    QList<LeftWork> m_left;
    QListWidget *m_list;
};

} // namespace buttonhole::app
