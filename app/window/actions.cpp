#include "window/actions.h"

#include "tools/toolbox.h"

#include <QCoreApplication>
#include <QWidget>

#include <deque>

namespace buttonhole::app
{

namespace
{

/// A key for each tool.
QList<ActionRow> toolRows()
{
    static std::deque<QByteArray> words; // which rows point to
    QList<ActionRow> rows;
    for (const ToolKind *kind : toolKinds().all()) {
        words.push_back(QByteArray::number(rows.size() + 1));
        const char *key = words.back().constData();
        words.push_back(QByteArray("tool-") + key);
        rows.append({words.back().constData(), "", kind->name, key, true, false, "Tools"});
    }
    return rows;
}

} // namespace

const QList<ActionRow> &actionRows()
{
    static const QList<ActionRow> rows = toolRows() + plainActionRows();
    return rows;
}

Actions::Actions(QWidget *window)
{
    for (const ActionRow &row : actionRows()) {
        if (row.id[0] == 0)
            continue;
        auto *action = new QAction(QCoreApplication::translate(row.context, row.text), window);
        action->setObjectName(QLatin1String(row.id));
        action->setCheckable(row.checkable);
        QList<QKeySequence> keys;
        for (const QString &key :
             QString::fromUtf8(row.keys).split(QStringLiteral("; "), Qt::SkipEmptyParts))
            keys.append(QKeySequence(key, QKeySequence::PortableText));
        action->setShortcuts(keys);
        action->setProperty("needsPhoto", row.needsPhoto);
        window->addAction(action);
        m_actions.insert(row.id, action);
    }
}

QAction *Actions::operator[](const char *id) const
{
    QAction *action = m_actions.value(id);
    Q_ASSERT(action);
    return action;
}

void Actions::setHasPhoto(bool has)
{
    for (QAction *action : m_actions)
        if (action->property("needsPhoto").toBool())
            action->setEnabled(has);
}

} // namespace buttonhole::app
