#pragma once

#include <QString>

namespace buttonhole::app
{

class Session;

// How moves are worded in "Done so far": what was done, and where.

/// "Brush on Teal ball"
QString onMask(const Session &session, const QString &what);
/// "Saturation of Teal ball 60 %"; without a value, "Name of Teal ball".
QString ofMask(const Session &session, const QString &what, const QString &value = {});
/// "Limit of Brush, Teal ball"
QString ofStep(const Session &session, const QString &what);
/// "Contrast of Grey 20"; without a value, "Hue curve of Grey".
QString ofGrey(const QString &what, const QString &value = {});
/// "Exposure of Prepare +1.00 EV"; without a value, "Crop of Prepare".
QString ofPrepare(const QString &what, const QString &value = {});

} // namespace buttonhole::app
