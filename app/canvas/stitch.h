#pragma once

#include "canvas/view_transform.h"
#include "document/take.h"
#include "render/stage_cache.h"

#include <QImage>

namespace buttonhole::app
{

/// Draws the running stitch of a keep's mask for one view: short rounded stitches of light thread
/// with a thin dark shadow, just outside the edge. Runs on a worker.
/// @param cache of the canvas, which has most of the mask already
/// @return a transparent picture of the canvas, empty where there is no edge
QImage drawStitch(const PhotoLevels &levels, const Keep &keep, const ViewTransform &view,
                  QSize canvas, double devicePixelRatio, StageCache &cache);

} // namespace buttonhole::app
