#pragma once

#include "job/delivery.h"
#include "mask/stroke.h"

#include <QByteArray>
#include <QString>
#include <QStringList>

namespace buttonhole::app
{

enum class Theme { Light, Dark };
inline constexpr int kLeastMemoryMb = 128;
inline constexpr int kMostMemoryMb = 16384;
enum class Surround { Light, Mid, Dark };

/// All that is remembered between sessions, with its defaults; loaded and saved in one place.
struct Settings {
    Tip tip;
    Delivery exporting; ///< of the open photo: what its picture is to be
    Theme theme = Theme::Light;
    Surround surround = Surround::Mid;
    int memoryMb = 384; ///< for undo, rendered tiles and stages together; the photo comes on top
    int glassZoom = 4;  ///< 2, 4 or 8
    bool glassShowsMask = false;
    bool showsStitch = true;
    bool showsBench = true;
    bool showsCheck = true;
    QString displayProfile; ///< ICC file chosen by hand; empty: as the screen says
    QString lastFolder;
    QStringList recentFiles;
    QByteArray windowGeometry;

    static Settings load(const QString &file);
    void save(const QString &file) const;
    /// Puts a file first in the list; at most ten stay.
    void noteRecent(const QString &path);
    /// Where settings are kept by default.
    static QString defaultFile();
};

} // namespace buttonhole::app
