#include "settings/settings.h"

#include <QSettings>
#include <QStandardPaths>

#include <algorithm>
#include <cmath>

namespace buttonhole::app
{

namespace
{

/// Each member once, for both directions.
template <class Archive, class Self>
void visit(Archive &archive, Self &s)
{
    for (const Param<Tip> &row : tipParams()) {
        if (std::string_view(row.id) == "edgeHold") // held for a while, by its key
            continue;
        float value = row.get(s.tip);
        archive(("brush/" + std::string(row.id)).c_str(), value);
        if constexpr (!std::is_const_v<Self>)
            if (!std::isnan(value))
                row.of(s.tip) = std::clamp(value, row.leastShown(), row.mostShown());
    }
    archive("brush/pressure", s.tip.pressure);
    archive("export/delivery", s.exporting);
    archive("style/theme", s.theme);
    archive("window/surround", s.surround);
    archive("memory/mb", s.memoryMb);
    archive("window/glassZoom", s.glassZoom);
    archive("window/glassShowsMask", s.glassShowsMask);
    archive("window/showsStitch", s.showsStitch);
    archive("window/showsBench", s.showsBench);
    archive("window/showsCheck", s.showsCheck);
    archive("window/displayProfile", s.displayProfile);
    archive("window/geometry", s.windowGeometry);
    archive("files/lastFolder", s.lastFolder);
    archive("files/recent", s.recentFiles);
}

struct Loader {
    QSettings &file;
    void operator()(const char *key, Delivery &value)
    {
        const std::string text = file.value(QLatin1String(key)).toString().toStdString();
        if (auto stored = text.empty() ? Result<Delivery>(value) : deliveryFromJson(text, key))
            value = *stored;
    }
    template <class T>
    void operator()(const char *key, T &value)
    {
        const QVariant stored = file.value(QLatin1String(key));
        if (!stored.isValid())
            return;
        if constexpr (std::is_enum_v<T>)
            value = T(stored.toInt());
        else
            value = stored.value<T>();
    }
};

struct Saver {
    QSettings &file;
    void operator()(const char *key, const Delivery &value)
    {
        file.setValue(QLatin1String(key), QString::fromStdString(deliveryToJson(value)));
    }
    template <class T>
    void operator()(const char *key, const T &value)
    {
        if constexpr (std::is_enum_v<T>)
            file.setValue(QLatin1String(key), int(value));
        else
            file.setValue(QLatin1String(key), QVariant::fromValue(value));
    }
};

} // namespace

Settings Settings::load(const QString &file)
{
    QSettings stored(file, QSettings::IniFormat);
    Settings settings;
    Loader loader{stored};
    visit(loader, settings);
    settings.memoryMb = std::clamp(settings.memoryMb, kLeastMemoryMb, kMostMemoryMb);
    if (settings.glassZoom != 2 && settings.glassZoom != 8)
        settings.glassZoom = 4;
    return settings;
}

void Settings::save(const QString &file) const
{
    QSettings stored(file, QSettings::IniFormat);
    Saver saver{stored};
    visit(saver, *this);
}

void Settings::noteRecent(const QString &path)
{
    constexpr int kMost = 10;
    recentFiles.removeAll(path);
    recentFiles.prepend(path);
    while (recentFiles.size() > kMost)
        recentFiles.removeLast();
}

QString Settings::defaultFile()
{
    return QStandardPaths::writableLocation(QStandardPaths::ConfigLocation) +
           QStringLiteral("/buttonhole/buttonhole.ini");
}

} // namespace buttonhole::app
