#include "commands/action_rows.h"

#include <QCoreApplication>
#include <QKeySequence>

#include <algorithm>

namespace buttonhole::app
{

const QList<ActionRow> &plainActionRows()
{
    static const QList<ActionRow> rows{
        {"open", "File", QT_TRANSLATE_NOOP("Actions", "Open…"), "Ctrl+O", false, false},
        {"recent", "File", QT_TRANSLATE_NOOP("Actions", "Open recent"), "", false, false},
        {"", "File", "-", "", false, false},
        {"save", "File", QT_TRANSLATE_NOOP("Actions", "Save"), "Ctrl+S", true, false},
        {"save-as", "File", QT_TRANSLATE_NOOP("Actions", "Save as…"), "Ctrl+Shift+S", true, false},
        {"pack", "File", QT_TRANSLATE_NOOP("Actions", "Pack the photo into the file"), "", true,
         true},
        {"", "File", "-", "", false, false},
        {"export", "File", QT_TRANSLATE_NOOP("Actions", "Export…"), "Ctrl+E", true, false},
        {"print", "File", QT_TRANSLATE_NOOP("Actions", "Print…"), "Ctrl+P", true, false},
        {"", "File", "-", "", false, false},
        {"left-work", "File", QT_TRANSLATE_NOOP("Actions", "Work that was not saved…"), "", false,
         false},
        {"quit", "File", QT_TRANSLATE_NOOP("Actions", "Quit"), "Ctrl+Q", false, false},

        {"undo", "Edit", QT_TRANSLATE_NOOP("Actions", "Undo"), "Ctrl+Z", true, false},
        {"redo", "Edit", QT_TRANSLATE_NOOP("Actions", "Redo"), "Ctrl+Shift+Z; Ctrl+Y", true, false},
        {"", "Edit", "-", "", false, false},
        {"memory", "Edit", QT_TRANSLATE_NOOP("Actions", "Memory…"), "", false, false},

        {"sheet", "Photo", QT_TRANSLATE_NOOP("Actions", "Sheet of the job"), "J", false, true},
        {"previous-photo", "Photo", QT_TRANSLATE_NOOP("Actions", "Previous photo"), "Ctrl+PgUp",
         true, false},
        {"next-photo", "Photo", QT_TRANSLATE_NOOP("Actions", "Next photo"), "Ctrl+PgDown", true,
         false},
        {"", "Photo", "-", "", false, false},
        {"new-take", "Photo", QT_TRANSLATE_NOOP("Actions", "New take"), "Ctrl+T", true, false},
        {"copy-take", "Photo", QT_TRANSLATE_NOOP("Actions", "Copy of this take"), "Ctrl+Shift+T",
         true, false},
        {"rename-take", "Photo", QT_TRANSLATE_NOOP("Actions", "Rename take"), "Shift+F2", true,
         false},
        {"take-earlier", "Photo", QT_TRANSLATE_NOOP("Actions", "Move take earlier"), "", true,
         false},
        {"take-later", "Photo", QT_TRANSLATE_NOOP("Actions", "Move take later"), "", true, false},
        {"delete-take", "Photo", QT_TRANSLATE_NOOP("Actions", "Delete take"), "", true, false},
        {"previous-take", "Photo", QT_TRANSLATE_NOOP("Actions", "Previous take"), "Alt+Left", true,
         false},
        {"next-take", "Photo", QT_TRANSLATE_NOOP("Actions", "Next take"), "Alt+Right", true, false},
        {"compare-takes", "Photo", QT_TRANSLATE_NOOP("Actions", "Compare takes"), "Shift+T", true,
         true},
        {"", "Photo", "-", "", false, false},
        {"photo-info", "Photo", QT_TRANSLATE_NOOP("Actions", "About this photo…"), "Ctrl+I", true,
         false},

        {"new-keep", "Keep", QT_TRANSLATE_NOOP("Actions", "New keep"), "Ctrl+K", true, false},
        {"rename-keep", "Keep", QT_TRANSLATE_NOOP("Actions", "Rename keep"), "F2", true, false},
        {"invert-line", "Keep", QT_TRANSLATE_NOOP("Actions", "Everything but this"), "Ctrl+Shift+K",
         true, false},
        {"", "Keep", "-", "", false, false},
        {"duplicate-line", "Keep", QT_TRANSLATE_NOOP("Actions", "Duplicate keep or step"), "Ctrl+D",
         true, false},
        {"copy-step", "Keep", QT_TRANSLATE_NOOP("Actions", "Copy step to another keep…"),
         "Ctrl+Shift+D", true, false},
        {"line-earlier", "Keep", QT_TRANSLATE_NOOP("Actions", "Move up in the ticket"),
         "Alt+Shift+Up", true, false},
        {"line-later", "Keep", QT_TRANSLATE_NOOP("Actions", "Move down in the ticket"),
         "Alt+Shift+Down", true, false},
        {"clear-keep", "Keep", QT_TRANSLATE_NOOP("Actions", "Clear the keep's mask"),
         "Ctrl+Backspace", true, false},
        {"delete-line", "Keep", QT_TRANSLATE_NOOP("Actions", "Delete keep or step"), "", true,
         false},
        {"", "Keep", "-", "", false, false},
        {"sign-add", "Keep", QT_TRANSLATE_NOOP("Actions", "Add"), "A", true, false},
        {"sign-subtract", "Keep", QT_TRANSLATE_NOOP("Actions", "Subtract"), "S", true, false},
        {"sign-inside", "Keep", QT_TRANSLATE_NOOP("Actions", "Only inside"), "D", true, false},
        {"sign-fuzz", "Keep", QT_TRANSLATE_NOOP("Actions", "Mark fuzz at the edge"), "G", true,
         false},
        {"sign-spill", "Keep", QT_TRANSLATE_NOOP("Actions", "Mark spilt colour"), "T", true, false},
        {"", "Keep", "-", "", false, false},
        {"smaller", "Keep", QT_TRANSLATE_NOOP("Actions", "Smaller tip"), "Q", true, false},
        {"larger", "Keep", QT_TRANSLATE_NOOP("Actions", "Larger tip"), "W", true, false},
        {"softer", "Keep", QT_TRANSLATE_NOOP("Actions", "Softer tip"), "Shift+Q", true, false},
        {"harder", "Keep", QT_TRANSLATE_NOOP("Actions", "Harder tip"), "Shift+W", true, false},
        {"hold", "Keep", QT_TRANSLATE_NOOP("Actions", "Hold to edges"), "E", true, true},
        {"", "Keep", "-", "", false, false},
        {"line-up", "Keep", QT_TRANSLATE_NOOP("Actions", "Line above in the ticket"), "Alt+Up",
         true, false},
        {"line-down", "Keep", QT_TRANSLATE_NOOP("Actions", "Line below in the ticket"), "Alt+Down",
         true, false},

        {"view-result", "View", QT_TRANSLATE_NOOP("Actions", "Result"), "R", true, true},
        {"view-mask", "View", QT_TRANSLATE_NOOP("Actions", "Mask"), "", true, true},
        {"view-tinted", "View", QT_TRANSLATE_NOOP("Actions", "Tinted"), "", true, true},
        {"view-cut-out", "View", QT_TRANSLATE_NOOP("Actions", "Cut-out"), "", true, true},
        {"view-colour-map", "View", QT_TRANSLATE_NOOP("Actions", "Colour map"), "", true, true},
        {"view-clipped", "View", QT_TRANSLATE_NOOP("Actions", "Clipped tones"), "H", true, true},
        {"only-keep", "View", QT_TRANSLATE_NOOP("Actions", "Mask views of this keep only"), "O",
         true, true},
        {"next-view", "View", QT_TRANSLATE_NOOP("Actions", "Next mask view"), "V", true, false},
        {"split", "View", QT_TRANSLATE_NOOP("Actions", "Split with the original"), "Shift+C", true,
         true},
        {"side-by-side", "View", QT_TRANSLATE_NOOP("Actions", "Side by side with the original"),
         "Shift+V", true, true},
        {"stitch", "View", QT_TRANSLATE_NOOP("Actions", "Running stitch"), "X", true, true},
        {"", "View", "-", "", false, false},
        {"fit", "View", QT_TRANSLATE_NOOP("Actions", "Fit"), "Ctrl+0", true, false},
        {"actual", "View", QT_TRANSLATE_NOOP("Actions", "100 %"), "Ctrl+1", true, false},
        {"delivered", "View", QT_TRANSLATE_NOOP("Actions", "As large as it leaves"), "Ctrl+2", true,
         false},
        {"zoom-in", "View", QT_TRANSLATE_NOOP("Actions", "Zoom in"), "Ctrl++; Ctrl+=", true, false},
        {"zoom-out", "View", QT_TRANSLATE_NOOP("Actions", "Zoom out"), "Ctrl+-", true, false},
        {"", "View", "-", "", false, false},
        {"presets", "View", QT_TRANSLATE_NOOP("Actions", "Presets"), "P", true, true},
        {"bench", "View", QT_TRANSLATE_NOOP("Actions", "Bench"), "F7", false, true},
        {"check", "View", QT_TRANSLATE_NOOP("Actions", "Check column"), "F8", false, true},
        {"fullscreen", "View", QT_TRANSLATE_NOOP("Actions", "Full screen"), "F11", false, true},
        {"", "View", "-", "", false, false},
        {"theme-dark", "View", QT_TRANSLATE_NOOP("Actions", "Dark felt"), "", false, true},
        {"surround", "View", QT_TRANSLATE_NOOP("Actions", "Surround"), "", false, false},
        {"display-profile", "View", QT_TRANSLATE_NOOP("Actions", "Display profile…"), "", false,
         false},

        {"guide", "Help", QT_TRANSLATE_NOOP("Actions", "Guide"), "", false, false},
        {"keys", "Help", QT_TRANSLATE_NOOP("Actions", "Keys"), "F1", false, false},
        {"about", "Help", QT_TRANSLATE_NOOP("Actions", "About Buttonhole"), "", false, false},
    };
    return rows;
}

QString keyOf(const char *id)
{
    const auto &rows = plainActionRows();
    const auto row = std::find_if(rows.begin(), rows.end(), [&](const ActionRow &each) {
        return std::string_view(each.id) == id;
    });
    Q_ASSERT(row != rows.end());
    const QString first = QString::fromUtf8(row->keys).section(QStringLiteral("; "), 0, 0);
    return QKeySequence(first, QKeySequence::PortableText).toString(QKeySequence::NativeText);
}

QString withKey(const QString &text, const char *id)
{
    return QStringLiteral("%1 (%2)").arg(text, keyOf(id));
}

} // namespace buttonhole::app
