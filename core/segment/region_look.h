#pragma once

#include "segment/edge_snap.h"
#include "segment/look_frame.h"
#include "segment/region_solver.h"

namespace buttonhole
{

/// How a further mark grows.
enum class GrewBy { Open, Ways, Likeness };

/// One look at a part of the photo: what the marks say there, and what follows from them.
struct RegionLook {
    LookFrame frame;
    cv::Mat1i bins;       ///< of ColourDensity
    cv::Mat1b keep;       ///< 255 under keep marks
    cv::Mat1b leave;      ///< 255 under leave marks and outside the box
    cv::Mat1b last;       ///< 255 under the last mark
    bool addsOnly = true; ///< the last mark is a keep mark: it only adds; a leave mark only takes
    bool lastIsClick = false;
    cv::Mat1b found; ///< 255 in what was found with the marks before; empty: nothing was
    cv::Mat1f prior; ///< log-odds from elsewhere, by how far they are trusted; empty: none
    float priorTrust = 0;
    cv::Mat1f near;               ///< 0..1: share of nearness to what is kept, by geodesic distance
    cv::Mat1b closed;             ///< 255 where `found` (or nothing) stays
    GrewBy grewBy = GrewBy::Open; ///< how the last mark grew, and where it came to rest
    float restedAt = 0;
    double largest = 0; ///< how much it may change at most, px of the frame; 0: not known yet
    cv::Mat1b beyond;   ///< 255 where a further keep mark's piece cannot lie; empty: nowhere
    cv::Mat1b around;   ///< 255 where colours are learnt from; empty: everywhere
    cv::Mat1b labels;   ///< the answer
    ColourEvidence colours;
};

/// @param longEdge of the frame, px
RegionLook lookAt(const PhotoLevels &levels, const RegionAsk &ask, const Rect &area, int longEdge);

/// Adds to look.prior; look.priorTrust is that of the most trusted.
void addPrior(RegionLook &look, const RegionPrior &prior);

/// The box as pixels of a frame.
cv::Rect boxIn(const LookFrame &frame, const Rect &box);

/// Fills look.near, look.closed and, after further keep marks, look.beyond. A first click grows
/// until it differs most from what lies round it; a further mark changes what it reaches in the
/// same way, and nothing else.
/// @param reach         -1 stops sooner .. 1 goes on
/// @param atPhotoBorder the border of the frame is that of the photo, where most things end
void measureNearness(RegionLook &look, float reach, bool atPhotoBorder);

/// Opens what is clearly of the region's colours and hangs together with what the last mark added,
/// but for look.beyond: growing stops at the first shadow or thread across a thing. To be called
/// with labels and colours of a first cut. Leave marks open nothing more.
/// @return whether something is open that was not
bool openAlike(RegionLook &look);

} // namespace buttonhole
