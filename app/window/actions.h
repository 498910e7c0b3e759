#pragma once

#include "commands/action_rows.h"

#include <QAction>
#include <QMap>

namespace buttonhole::app
{

/// All of them: a key for each tool, then the plain ones.
const QList<ActionRow> &actionRows();

/// The actions of one window, by id.
class Actions
{
public:
    explicit Actions(QWidget *window);
    QAction *operator[](const char *id) const;
    void setHasPhoto(bool has);

private:
    QMap<QByteArray, QAction *> m_actions;
};

} // namespace buttonhole::app
