#include "commands/sign_words.h"

#include "commands/action_rows.h"

#include <QCoreApplication>

namespace buttonhole::app
{

QList<SignWords> signWords()
{
    const auto tr = [](const char *text) { return QCoreApplication::translate("Signs", text); };
    QList<SignWords> out{
        {Sign::Add, tr("add"), tr("Bring colour back; with Ctrl held, take it away"),
         QStringLiteral("+"), "sign-add"},
        {Sign::Subtract, tr("subtract"), tr("Take colour away; with Ctrl held, bring it back"),
         QStringLiteral("−"), "sign-subtract"},
        {Sign::OnlyInside, tr("inside"), tr("Keep colour only where this step is"),
         QStringLiteral("⊂"), "sign-inside"},
        {Sign::Fuzz, tr("fuzz"),
         tr("Mark hair, fuzz or grass along the edge: the soft edge reaches three times as far "
            "there"),
         QStringLiteral("≈"), "sign-fuzz"},
        {Sign::Spill, tr("spill"),
         tr("Mark where another colour has spilt onto the keep: it takes the colour of what is "
            "kept round about"),
         QStringLiteral("◦"), "sign-spill"}};
    for (SignWords &words : out)
        words.help = withKey(words.help, words.action);
    return out;
}

} // namespace buttonhole::app
