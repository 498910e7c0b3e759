#include "commands/move_words.h"

#include "commands/session.h"
#include "commands/step_words.h"

#include <QCoreApplication>

namespace buttonhole::app
{

namespace
{

QString tr(const char *text)
{
    return QCoreApplication::translate("Moves", text);
}

QString nameOf(const MaskedLine *line)
{
    return line ? QString::fromStdString(line->name) : QString();
}

} // namespace

QString onMask(const Session &session, const QString &what)
{
    return tr("%1 on %2").arg(what, nameOf(session.masked()));
}

QString ofMask(const Session &session, const QString &what, const QString &value)
{
    return tr("%1 of %2 %3").arg(what, nameOf(session.masked()), value).trimmed();
}

QString ofStep(const Session &session, const QString &what)
{
    const Step *step = session.step();
    return step ? tr("%1 of %2, %3").arg(what, titleOf(*step), nameOf(session.masked())) : what;
}

QString ofGrey(const QString &what, const QString &value)
{
    return tr("%1 of Grey %2").arg(what, value).trimmed();
}

QString ofPrepare(const QString &what, const QString &value)
{
    return tr("%1 of Prepare %2").arg(what, value).trimmed();
}

} // namespace buttonhole::app
