#pragma once

#include <QString>

namespace buttonhole::app
{

/// A tooltip that shows text as it is: names out of files may look like markup, which could load
/// pictures from the disk.
inline QString plainTip(const QString &text)
{
    return text.isEmpty() ? text
                          : QStringLiteral("<qt>") + text.toHtmlEscaped() + QStringLiteral("</qt>");
}

} // namespace buttonhole::app
