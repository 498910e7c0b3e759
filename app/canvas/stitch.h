#pragma once

#include "document/take.h"
#include "render/stage_cache.h"
#include "view/view_transform.h"

#include <QImage>
#include <QPointF>

#include <optional>

namespace buttonhole::app
{

struct Stitch {
    QImage image;                ///< transparent, of the canvas; null where there is no edge
    std::optional<QPointF> edge; ///< the place on the edge nearest to what was asked, photo px
};

/// Draws the running stitch of a keep's mask for one view: short rounded stitches of light thread
/// with a thin dark shadow, just outside the edge. Runs on a worker.
/// @param cache of the canvas, which has most of the mask already
/// @param near photo px, see Stitch::edge
Stitch drawStitch(const PhotoLevels &levels, const Keep &keep, const ViewTransform &view,
                  QSize canvas, double devicePixelRatio, const QPointF &near, StageCache &cache);

} // namespace buttonhole::app
