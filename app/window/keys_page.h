#pragma once

#include "window/actions.h"

#include <QDialog>

class QLabel;
class QLineEdit;

namespace buttonhole::app
{

/// All keys on one screen, by what one is doing; typing finds them.
class KeysPage : public QDialog
{
    Q_OBJECT
public:
    KeysPage(const Actions &actions, QWidget *parent);

private:
    struct Row {
        QString keys;
        QString does;
        QWidget *widget = nullptr;
    };
    struct Group {
        QWidget *widget = nullptr;
        QList<Row> rows;
    };
    QWidget *makeGroup(const QString &title, QList<Row> rows);
    void find(const QString &text);

    QLineEdit *m_search;
    QLabel *m_none; ///< nothing is called so
    QList<Group> m_groups;
};

} // namespace buttonhole::app
