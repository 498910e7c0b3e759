#pragma once

#include "document/take.h"
#include "io/photo_levels.h"

#include <QString>

namespace buttonhole::app
{

/// What a light does, by its numbers in their order, at most so many: "+0.40 EV, contrast +20, …".
QString wordsOfLight(const Adjustment &light, int most);
/// Kinds that the pages of Prepare show, and the ticket has no row for.
bool isOnPages(std::string_view kind);
/// "filled", "not filled yet".
QString stateOf(const Removal &removal);
/// "crop 800 × 600, +0.40 EV": what is prepared; "as taken" where nothing is.
QString summaryOfPrepare(const Take &take, const PhotoLevels &levels);

} // namespace buttonhole::app
