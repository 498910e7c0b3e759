#pragma once

#include "raster/image.h"

#include <QString>

#include <cstdint>
#include <vector>

namespace buttonhole::test
{

// Picture files written with the plain libraries, independent of the code under test. Each gives
// the path it wrote.

void writeFile(const QString &path, const void *data, size_t size);

/// JPEG by libjpeg; 1 (grey), 3 (RGB) or 4 (CMYK as usually written: inverted, Adobe marker)
/// channels.
QString writeJpeg(const QString &path, const Image<uint8_t> &picture, int quality = 95,
                  const std::vector<uint8_t> &icc = {});
/// PNG with a palette of four colours of which the last is half transparent: colour x % 4.
QString writePalettePng(const QString &path, int width, int height);
/// A valid black grey PNG of any size: rows are streamed.
QString writeBlackPng(const QString &path, int width, int height);

enum class Type { U8, U16, Float };
/// Any format that OpenImageIO writes, by the file's ending. Float values are codes / highest code.
QString writeByLibrary(const QString &path, const Image<uint16_t> &picture, Type type);

/// A small camera raw in the DNG format (Adobe DNG 1.4): a plain RGGB mosaic, 16 bits, of one
/// linear colour per half: left half (r, g, b), right half neutral. Orientation as given.
QString writeDng(const QString &path, int width, int height, int orientation);

/// A TIFF of one CIE L*a*b* colour (TIFF 6.0, section 23), 8 or 16 bits a channel.
QString writeLabTiff(const QString &path, int width, int height, double L, double a, double b,
                     int bits);
/// A TIFF of several grey pages.
QString writePagesTiff(const QString &path, int pages);

/// Adds EXIF (orientation, camera, artist, GPS), XMP and IPTC of the Fernhollow scenario.
void addMetadata(const QString &path, int orientation);

} // namespace buttonhole::test
