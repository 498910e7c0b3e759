// Of take.h what goes by lines of prepare and finish; the rest is in take.cpp.
#include "document/take.h"

#include "clean/find_spots.h"
#include "light/lens.h"
#include "light/photo_light.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

Take withLine(Take take, uint64_t lineId, const std::function<void(AdjustmentLine &)> &change)
{
    for (auto *lines : {&take.prepare, &take.finish})
        for (AdjustmentLine &line : *lines)
            if (line.id == lineId)
                change(line);
    return take;
}

AdjustmentRef preparedBy(const Take &take, std::string_view kind)
{
    for (const AdjustmentLine &line : take.prepare)
        if (line.adjustment->kind() == kind)
            return line.adjustment;
    const AdjustmentKind *known = adjustmentKinds().find(kind);
    return known ? known->initial : nullptr;
}

Radial distortionOf(const Take &take)
{
    for (const AdjustmentLine &line : take.prepare)
        if (const auto *lens = dynamic_cast<const Lens *>(line.adjustment.get()); lens && line.on)
            return lens->distortion();
    return {};
}

PictureMap pictureOf(const Take &take, int photoWidth, int photoHeight)
{
    return {take.geometry, photoWidth, photoHeight, distortionOf(take)};
}

Take withFilledCrop(Take take, int photoWidth, int photoHeight)
{
    Rect &crop = take.geometry.crop;
    if (!crop.isEmpty())
        crop = pictureOf(take, photoWidth, photoHeight).warp().filledPart(crop);
    return take;
}

const std::vector<SpotMend> &mendsOf(const Take &take)
{
    static const std::vector<SpotMend> none;
    for (const AdjustmentLine &line : take.prepare)
        if (const auto *mends = dynamic_cast<const Mends *>(line.adjustment.get()))
            return mends->spots();
    return none;
}

Take withMends(Take take, std::vector<SpotMend> mends)
{
    return withPrepared(std::move(take), std::make_shared<const Mends>(std::move(mends)));
}

Result<Take> withFoundSpots(Take take, const PhotoLevels &levels, const Run &run)
{
    const auto found = findSpots(levels, run);
    if (!found)
        return found.error();
    std::vector<SpotMend> mends = mendsOf(take);
    for (const Spot &spot : *found) {
        const bool isMended = std::any_of(mends.begin(), mends.end(), [&](const SpotMend &mend) {
            return std::hypot(mend.spot.x - spot.x, mend.spot.y - spot.y) <
                   std::max(mend.spot.radiusPx, spot.radiusPx);
        });
        if (!isMended && mends.size() < Mends::kMost)
            mends.push_back({spot, findSpotSource(levels, spot, *found)});
    }
    return withMends(std::move(take), std::move(mends));
}

Take withAutoLight(Take take, const PhotoLevels &levels)
{
    const auto now = std::dynamic_pointer_cast<const NumberAdjustment<PhotoLight>>(
        preparedBy(take, PhotoLight::kKind));
    return withPrepared(std::move(take), std::make_shared<const NumberAdjustment<PhotoLight>>(
                                             autoLight(levels, now->values())));
}

Take withPrepared(Take take, const AdjustmentRef &adjustment)
{
    const auto isOne = [&](const AdjustmentLine &line) {
        return line.adjustment->kind() == adjustment->kind();
    };
    const auto at = std::find_if(take.prepare.begin(), take.prepare.end(), isOne);
    if (adjustment->isOff()) {
        std::erase_if(take.prepare, isOne);
    } else if (at != take.prepare.end()) {
        at->adjustment = adjustment;
    } else {
        const bool on =
            take.prepare.empty() || std::any_of(take.prepare.begin(), take.prepare.end(),
                                                [](const AdjustmentLine &line) { return line.on; });
        const auto rankOf = [](std::string_view kind) {
            const auto kinds = adjustmentKinds().all();
            return std::find_if(kinds.begin(), kinds.end(),
                                [&](const AdjustmentKind *each) { return each->id == kind; }) -
                   kinds.begin();
        };
        const auto rank = rankOf(adjustment->kind());
        const auto next =
            std::find_if(take.prepare.begin(), take.prepare.end(), [&](const AdjustmentLine &line) {
                return rankOf(line.adjustment->kind()) > rank;
            });
        take.prepare.insert(next, {take.nextId++, on, adjustment});
    }
    return take;
}

Take withFinished(Take take, const AdjustmentRef &adjustment, uint64_t *lineId)
{
    auto at = std::find_if(take.finish.begin(), take.finish.end(), [&](const AdjustmentLine &line) {
        return line.adjustment->kind() == adjustment->kind();
    });
    if (at == take.finish.end())
        at = take.finish.insert(at, {take.nextId++, true, adjustment});
    at->adjustment = adjustment;
    if (lineId)
        *lineId = at->id;
    return take;
}

Take withoutLine(Take take, uint64_t lineId)
{
    for (auto *lines : {&take.prepare, &take.finish})
        std::erase_if(*lines, [&](const AdjustmentLine &line) { return line.id == lineId; });
    return take;
}

Work withHeadroom(Work work, float moreEv)
{
    using Light = NumberAdjustment<PhotoLight>;
    if (moreEv == 0)
        return work;
    for (auto &take : work.takes) {
        const auto now = preparedBy(*take, PhotoLight::kKind);
        PhotoLight light = static_cast<const Light &>(*now).values();
        light.exposureEv = std::clamp(light.exposureEv + moreEv, -5.0F, 5.0F);
        take =
            std::make_shared<const Take>(withPrepared(*take, std::make_shared<const Light>(light)));
    }
    return work;
}

Work makeWork(const Photo &photo)
{
    return withHeadroom(makeWork(), photo.headroomEv);
}

} // namespace buttonhole
