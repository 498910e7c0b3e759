#pragma once

#include <QList>
#include <QString>

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

/// All but the tools.
const QList<ActionRow> &plainActionRows();
/// The first key of an action, as the platform words it.
QString keyOf(const char *id);
/// Words for a tooltip with the key of what they tell of: "Undo (Ctrl+Z)".
QString withKey(const QString &text, const char *id);

} // namespace buttonhole::app
