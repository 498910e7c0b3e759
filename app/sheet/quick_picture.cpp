#include "sheet/quick_picture.h"

#include "document/container.h"
#include "export/small_picture.h"
#include "io/jpeg.h"
#include "io/photo.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QImageReader>
#include <QImageWriter>
#include <QSaveFile>
#include <QStandardPaths>
#include <QUrl>

namespace buttonhole::app
{

namespace
{

constexpr int kStoredPx = 256; ///< "large", in the standard's words

QString uriOf(const QString &path)
{
    return QString::fromLatin1(
        QUrl::fromLocalFile(QFileInfo(path).canonicalFilePath()).toEncoded(QUrl::FullyEncoded));
}

QString storedPath(const QString &path)
{
    const QByteArray name =
        QCryptographicHash::hash(uriOf(path).toLatin1(), QCryptographicHash::Md5).toHex();
    return QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
           QStringLiteral("/thumbnails/large/") + QString::fromLatin1(name) +
           QStringLiteral(".png");
}

QString changedAt(const QString &path)
{
    return QString::number(QFileInfo(path).lastModified().toSecsSinceEpoch());
}

QImage storedPicture(const QString &path)
{
    QImageReader reader(storedPath(path));
    const QImage image = reader.read();
    const bool isIts = image.text(QStringLiteral("Thumb::MTime")) == changedAt(path) &&
                       image.text(QStringLiteral("Thumb::URI")) == uriOf(path);
    return isIts ? image.convertToFormat(QImage::Format_RGB888) : QImage();
}

void store(const QString &path, QImage image)
{
    const QString place = storedPath(path);
    QDir().mkpath(QFileInfo(place).path());
    image.setText(QStringLiteral("Thumb::URI"), uriOf(path));
    image.setText(QStringLiteral("Thumb::MTime"), changedAt(path));
    QSaveFile file(place);
    if (!file.open(QIODevice::WriteOnly))
        return; // it is only sooner with it
    file.setPermissions(QFileDevice::ReadOwner | QFileDevice::WriteOwner);
    QImageWriter writer(&file, "png");
    constexpr int kQuick = 85; // packed less, in a third of the time
    writer.setQuality(kQuick);
    if (writer.write(image))
        file.commit();
}

/// By opening it as a whole.
QImage openedPicture(const QString &path, const Run &run)
{
    auto photo = loadPhoto(path.toStdString(), run);
    if (!photo)
        return {};
    const auto levels = PhotoLevels::make(std::make_shared<const Photo>(std::move(*photo)));
    if (!levels)
        return {};
    Take plain;
    plain.greyOn = false;
    const auto small = renderSmall(**levels, plain, kStoredPx);
    return small ? imageOf(*small) : QImage();
}

} // namespace

QImage imageOf(const Image<uint8_t> &pixels)
{
    return QImage(pixels.row(0), pixels.width(), pixels.height(), int(pixels.stride()),
                  QImage::Format_RGB888)
        .copy();
}

QImage quickPicture(const QString &path, int longEdge, const Run &run)
{
    const std::string file = path.toStdString();
    if (!isContainerPath(file)) {
        const auto glance = loadGlance(file, longEdge, run);
        const auto *pixels = glance ? std::get_if<Image<uint8_t>>(&glance->photo.pixels) : nullptr;
        return pixels ? imageOf(*pixels) : QImage();
    }
    const auto bytes = loadPreview(file);
    if (!bytes)
        return {};
    const auto decoded = decodeJpeg(*bytes, file, run);
    const auto *pixels = decoded ? std::get_if<Image<uint8_t>>(&decoded->pixels) : nullptr;
    return pixels && pixels->channels() == 3 ? imageOf(*pixels) : QImage();
}

QImage sheetPicture(const QString &path, const Run &run)
{
    const bool isWork = isContainerPath(path.toStdString());
    if (!isWork)
        if (QImage stored = storedPicture(path); !stored.isNull())
            return stored;
    QImage made = quickPicture(path, kStoredPx, run);
    if (made.isNull() && !isWork)
        made = openedPicture(path, run);
    if (made.isNull() || run.stopped())
        return {};
    made = made.scaled(kStoredPx, kStoredPx, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    if (!isWork)
        store(path, made);
    return made;
}

} // namespace buttonhole::app
