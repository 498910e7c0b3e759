#pragma once

#include "canvas/view_transform.h"
#include "document/take.h"

#include <QImage>

namespace buttonhole::app
{

/// Draws the running stitch of a keep's mask for one view: short rounded stitches of light thread
/// with a thin dark shadow, just outside the edge. Runs on a worker.
/// @return a transparent picture of the canvas, empty where there is no edge
QImage drawStitch(const PhotoLevels &levels, const Keep &keep, const ViewTransform &view,
                  QSize canvas, double devicePixelRatio);

} // namespace buttonhole::app
