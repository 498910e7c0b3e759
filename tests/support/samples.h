#pragma once

#include "document/take.h"
#include "io/photo_levels.h"
#include "mask/brush_step.h"

#include <QString>

#include <array>
#include <functional>
#include <initializer_list>

namespace buttonhole::test
{

/// A colourful picture with ramps, neutrals and noise: every pixel differs from its neighbours.
template <class T>
Image<T> makePicture(int width, int height, int channels = 3);

/// A photo in memory, as if it had been opened.
std::shared_ptr<const Photo> makePhoto(int width, int height, int bits = 8,
                                       const Profile &profile = Profile::srgb());

/// The levels of a photo painted pixel by pixel, sRGB 0..255.
using Painter = std::function<std::array<int, 3>(int x, int y)>;
std::shared_ptr<const PhotoLevels> levelsOf(int width, int height, const Painter &paint);

/// The shape after a way through JSON without rasters; null if that was refused.
std::shared_ptr<const StepShape> again(const StepShape &shape);

/// A matrix profile other than sRGB: Rec. 2020 primaries (ITU-R BT.2020-2), pure power 2.2.
Profile wideProfile();

/// A stroke through points.
Stroke makeStroke(const Tip &tip, std::initializer_list<StrokePoint> points);

/// A take with one keep "Spool" holding one brush step of these strokes, painted.
Take makePaintedTake(int width, int height, const std::vector<Stroke> &strokes,
                     Sign sign = Sign::Add);

/// A part of the photo as one of the picture, where a take has no geometry.
inline PictureRect asPicture(const Rect &photo)
{
    return {photo.x0, photo.y0, photo.x1, photo.y1};
}

/// The whole of a mask, row by row.
std::vector<uint16_t> maskOf(const Keep &keep, const Rect &area, int level = 0);
std::vector<uint16_t> pixelsOf(const MaskPlane &plane);
double meanOf(const MaskPlane &plane); ///< 0..1

/// Path of a demo photo.
QString demo(const char *name);
/// An SVG below what a signature may hold that makes librsvg 2.54 crash: masks in masks.
std::string hostileDrawing();

/// Reads a whole file; fails the test when it is not there.
std::vector<uint8_t> bytesOf(const QString &path);

/// Pixels of an opened photo as 16-bit values, 8-bit ones times 257.
uint16_t codeAt(const Photo &photo, int x, int y, int channel);

} // namespace buttonhole::test
