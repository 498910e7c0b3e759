#pragma once

#include <QAction>
#include <QList>
#include <QMap>

namespace buttonhole::app
{

/// One thing the user can do. The menus, the key list and the tooltips come from this table.
struct ActionRow {
    const char *id;   ///< stable: keys chosen by the user are stored by it
    const char *menu; ///< "File", "Edit", ...; "" = no menu (keys only)
    const char *text; ///< as in the menu; "-" = separator
    const char *keys; ///< portable text, several separated by "; "
    bool needsPhoto;
    bool checkable;
    const char *context = "Actions"; ///< of its text's translation
};

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
