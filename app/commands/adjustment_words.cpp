#include "commands/adjustment_words.h"

namespace buttonhole::app
{

namespace
{

QString wordOfId(std::string_view id)
{
    QString out;
    for (const char c : id) {
        const QChar letter = QLatin1Char(c);
        if (letter == QLatin1Char('-') || letter == QLatin1Char('.'))
            out += QLatin1Char(' ');
        else if (letter.isUpper())
            out += QStringLiteral(" ") + letter.toLower();
        else
            out += out.isEmpty() ? letter.toUpper() : letter;
    }
    return out;
}

} // namespace

QString kindWord(std::string_view kind)
{
    return wordOfId(kind);
}

QString numberWord(std::string_view, std::string_view number)
{
    return wordOfId(number);
}

} // namespace buttonhole::app
