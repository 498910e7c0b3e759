#include "mask/mask.h"

#include "mask/mask_filter.h"
#include "matting/soft_edge.h"
#include "segment/look_frame.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

/// Wider than this, in px of its level, a Gaussian is made one level up.
constexpr float kMostSigma = 6;
/// Wider than this on the coarsest level, it sees all of the picture.
constexpr float kWideSigma = 32;
/// Less does not show.
constexpr float kLeastSigma = 0.15F;
/// A soft edge that reaches less far than this, in px of its level, does not show.
constexpr float kLeastBand = 2;

Rect widened(const Rect &area, int by, const Rect &picture)
{
    return intersected({area.x0 - by, area.y0 - by, area.x1 + by, area.y1 + by}, picture);
}

/// Copies what lies in `to` out of a larger part.
void copyOut(const MaskPart &from, MaskPart &to)
{
    const int width = to.area.width();
    for (int y = to.area.y0; y < to.area.y1; ++y)
        std::copy_n(from.values.data() + size_t(y - from.area.y0) * size_t(from.area.width()) +
                        size_t(to.area.x0 - from.area.x0),
                    width, to.values.data() + size_t(y - to.area.y0) * size_t(width));
}

/// The folded mask without specks and holes.
void cleanedMask(const PhotoLevels &levels, const Mask &mask, int level, MaskPart &out,
                 const FoldedSource &folded)
{
    const int specks = int(mask.specksPx) >> level;
    const int holes = int(mask.holesPx) >> level;
    if (specks == 0 && holes == 0) {
        folded(level, out.area, out.values.data());
        return;
    }
    MaskPart part(widened(out.area, specks + holes + 2, levels.rectOf(level)));
    folded(level, part.area, part.values.data());
    dropSpecks(part, specks);
    fillHoles(part, holes);
    copyOut(part, out);
}

/// Says whether it crosses a half.
bool hasEdge(const MaskPart &part)
{
    const auto [least, most] = std::minmax_element(part.values.begin(), part.values.end());
    return *least < 32768 && *most >= 32768;
}

/// 0..1.
cv::Mat1f toMat(MaskPart &part)
{
    cv::Mat1f out;
    cv::Mat(part.area.height(), part.area.width(), CV_16UC1, part.values.data())
        .convertTo(out, CV_32F, 1.0 / 65535);
    return out;
}

/// 255 where steps mark fuzz.
cv::Mat1b fuzzOf(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area)
{
    cv::Mat marked(area.height(), area.width(), CV_16UC1);
    markedPart(levels, mask, Sign::Fuzz, level, area, marked.ptr<uint16_t>());
    return cv::Mat1b(marked >= 32768);
}

/// The soft edge's band in an area: marks far from it do not matter there, and looking as far as
/// they would ask for is slow.
EdgeBand bandNear(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area)
{
    EdgeBand band = mask.softBand(level);
    if (band.hasWide) {
        const Rect seen = widened(area, softEdgeMargin(band), levels.rectOf(level));
        band.hasWide = cv::countNonZero(fuzzOf(levels, mask, level, seen)) > 0;
    }
    return band;
}

/// The tables of colours beside a mask's edge; kept, since all parts near a block ask for its.
SideTableSource sidesOf(const PhotoLevels &levels, const Mask &mask, int level,
                        const EdgeBand &band, const FoldedSource &folded)
{
    // One place for all masks: they must not push out each other's, or solved regions.
    constexpr uint64_t kTables = 0x51DE;
    const auto tables = std::static_pointer_cast<const SideTables>(
        levels.memo().find(kTables, [] { return std::make_shared<const SideTables>(); }));
    const float wrongBy = wrongByPx(band);
    const uint64_t content = joinedContent(joinedContent(foldedContent(mask), uint64_t(level)),
                                           {mask.specksPx, mask.holesPx, wrongBy});
    return [&levels, &mask, level, &folded, wrongBy, tables, content](const cv::Point &block) {
        return tables->find(content, block, [&]() -> SideTable {
            const Rect picture = levels.rectOf(level);
            const cv::Rect rect = SideTable::rectOf(block);
            const Rect own = intersected({rect.x, rect.y, rect.br().x, rect.br().y}, picture);
            if (own.isEmpty())
                return {};
            MaskPart part(widened(own, SideTable::margin(wrongBy), picture));
            cleanedMask(levels, mask, level, part, folded);
            if (!hasEdge(part))
                return {};
            const cv::Rect inPart(own.x0 - part.area.x0, own.y0 - part.area.y0, own.width(),
                                  own.height());
            return SideTable::of(readLab(levels, level, own), depthIn(toMat(part))(inPart),
                                 wrongBy);
        });
    };
}

/// Cleaned, its edge made soft where the photo is.
void softenedMask(const PhotoLevels &levels, const Mask &mask, int level, MaskPart &out,
                  const FoldedSource &folded)
{
    const EdgeBand band = bandNear(levels, mask, level, out.area);
    if (band.reach() < kLeastBand) {
        cleanedMask(levels, mask, level, out, folded);
        return;
    }
    MaskPart part(widened(out.area, softEdgeMargin(band), levels.rectOf(level)));
    cleanedMask(levels, mask, level, part, folded);
    if (hasEdge(part)) {
        cv::Mat mat(part.area.height(), part.area.width(), CV_16UC1, part.values.data());
        softenEdge(readLab(levels, level, part.area), toMat(part),
                   {band,
                    band.hasWide ? fuzzOf(levels, mask, level, part.area) : cv::Mat1b(),
                    {part.area.x0, part.area.y0},
                    cv::Rect(out.area.x0 - part.area.x0, out.area.y0 - part.area.y0,
                             out.area.width(), out.area.height()),
                    sidesOf(levels, mask, level, band, folded)})
            .convertTo(mat, CV_16U, 65535);
    }
    copyOut(part, out);
}

/// Softened, then grown.
void grownMask(const PhotoLevels &levels, const Mask &mask, int level, MaskPart &out,
               const FoldedSource &folded)
{
    const float radius = mask.growPx / float(1 << level);
    if (radius == 0) {
        softenedMask(levels, mask, level, out, folded);
        return;
    }
    MaskPart part(widened(out.area, growMargin(radius), levels.rectOf(level)));
    softenedMask(levels, mask, level, part, folded);
    grow(part, radius);
    copyOut(part, out);
}

/// What a step acts inside of, 0..65535. @return false: anywhere
bool readLimit(const PhotoLevels &levels, const Mask &mask, const Step &step, int level,
               const Rect &area, const std::vector<uint16_t> &before, std::vector<uint16_t> &out)
{
    if (step.insideOf == Step::kWhatIsThere) {
        constexpr int kFully = 4; ///< a quarter of coverage is there as well
        for (size_t i = 0; i < before.size(); ++i)
            out[i] = uint16_t(std::min(65535, kFully * int(before[i])));
        return true;
    }
    const Step *other = step.insideOf == step.id ? nullptr : mask.findStep(step.insideOf);
    if (!other || !other->shape->isUnderstood())
        return false;
    const auto effect =
        other->coverage(levels, level, area, out.data(), out.data() + before.size());
    if (effect == StepShape::Effect::None)
        std::fill(out.begin(), out.end(), uint16_t(0));
    return true;
}

/// Takes back what a step did outside of its limit, in proportion where that is soft.
void mixBack(const std::vector<uint16_t> &before, const std::vector<uint16_t> &limit, uint16_t *out)
{
    for (size_t i = 0; i < before.size(); ++i) {
        const int64_t change = (int64_t(out[i]) - before[i]) * limit[i];
        out[i] = uint16_t(before[i] + (change + (change < 0 ? -32767 : 32767)) / 65535);
    }
}

} // namespace

const Step *Mask::findStep(uint64_t stepId) const
{
    const auto it =
        std::find_if(steps.begin(), steps.end(), [&](const Step &s) { return s.id == stepId; });
    return it == steps.end() ? nullptr : &*it;
}

bool Mask::hasMarks(Sign sign) const
{
    return std::any_of(steps.begin(), steps.end(), [&](const Step &step) {
        return step.on && step.sign == sign && step.shape->isUnderstood();
    });
}

EdgeBand Mask::softBand(int level) const
{
    constexpr float kUsualPx = 6;
    const float px = softEdgePx > 0 ? softEdgePx : hasFuzz() ? kUsualPx : 0;
    return {px / float(1 << level), softEdgeFound, hasFuzz()};
}

bool Mask::needsLevels() const
{
    return featherPx > 0 || std::any_of(steps.begin(), steps.end(), [](const Step &step) {
               return step.on && step.shape->needsLevels();
           });
}

std::span<const Param<Mask>> maskParams()
{
    static constexpr auto kRows = maskRows<Mask>();
    return kRows;
}

int reachPx(const Mask &mask)
{
    if (!mask.hasMargin())
        return 0;
    // Feathering on a coarser level reads whole pixels of it.
    const int cleaned = mask.isCleaned() ? int(mask.specksPx + mask.holesPx) + 2 : 0;
    return cleaned + growMargin(mask.growPx) + int(std::ceil(mask.featherPx * 3.6F)) + 2;
}

void foldedMask(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
                uint16_t *out)
{
    const size_t n = area.area();
    std::fill_n(out, n, uint16_t(0));
    std::vector<uint16_t> limits;
    std::vector<uint16_t> before;
    for (const Step &step : mask.steps) {
        if (!step.on || !step.shape->isUnderstood() || isMark(step.sign))
            continue;
        limits.resize(2 * n);
        const auto effect = step.coverage(levels, level, area, limits.data(), limits.data() + n);
        const bool isLimited = step.insideOf != Step::kAnywhere;
        if (isLimited)
            before.assign(out, out + n);
        foldStep(step.sign, effect, limits.data(), limits.data() + n, out, n);
        if (isLimited && readLimit(levels, mask, step, level, area, before, limits))
            mixBack(before, limits, out);
    }
}

uint64_t foldedContent(const Mask &mask)
{
    const auto contentOf = [](const Step &step) {
        return joinedContent(step.shape->content(), uint64_t(step.invert));
    };
    uint64_t content = 0;
    for (const Step &step : mask.steps)
        if (step.on && step.shape->isUnderstood() && step.sign != Sign::Spill) {
            content = joinedContent(joinedContent(content, contentOf(step)), uint64_t(step.sign));
            if (step.insideOf == Step::kAnywhere)
                continue;
            const Step *other = mask.findStep(step.insideOf);
            content = joinedContent(content, other ? contentOf(*other) : step.insideOf);
        }
    return content;
}

void shapedMask(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
                uint16_t *out, const FoldedSource &folded)
{
    float sigma = mask.featherPx / float(1 << level);
    int steps = 0;
    while (sigma > kMostSigma && level + steps + 1 < levels.count()) {
        sigma /= 2;
        ++steps;
    }
    const size_t n = area.area();
    if (sigma < kLeastSigma) {
        MaskPart part(area);
        grownMask(levels, mask, level, part, folded);
        std::copy_n(part.values.data(), n, out);
    } else {
        const int coarse = level + steps;
        const bool isWide = sigma > kWideSigma;
        // One pixel more on each side: enlarging reads between the centres of its neighbours.
        const int margin = featherMargin(sigma) + 1;
        MaskPart part(isWide ? levels.rectOf(coarse)
                             : widened(atLevel(area, steps), margin, levels.rectOf(coarse)));
        grownMask(levels, mask, coarse, part, folded);
        isWide ? featherWide(part, sigma) : feather(part, sigma);
        enlarge(part, steps, area, out);
    }
    if (mask.invert)
        for (size_t i = 0; i < n; ++i)
            out[i] = uint16_t(65535 - out[i]);
}

bool markedPart(const PhotoLevels &levels, const Mask &mask, Sign sign, int level, const Rect &area,
                uint16_t *out)
{
    const size_t n = area.area();
    std::fill_n(out, n, uint16_t(0));
    bool any = false;
    std::vector<uint16_t> limits;
    for (const Step &step : mask.steps) {
        if (!step.on || step.sign != sign || !step.shape->isUnderstood())
            continue;
        limits.resize(2 * n);
        if (step.coverage(levels, level, area, limits.data(), limits.data() + n) ==
            StepShape::Effect::None)
            continue;
        any = true;
        for (size_t i = 0; i < n; ++i)
            out[i] = std::max(out[i], limits[i]);
    }
    return any;
}

uint64_t shapedContent(const Mask &mask)
{
    return joinedContent(contentOf(mask, maskParams(), foldedContent(mask)),
                         uint64_t(mask.invert) + 2 * uint64_t(mask.softEdgeFound));
}

void fullMask(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
              uint16_t *out)
{
    shapedMask(levels, mask, level, area, out, [&](int at, const Rect &part, uint16_t *to) {
        foldedMask(levels, mask, at, part, to);
    });
}

void applyStrength(float strength, uint16_t *mask, size_t n)
{
    if (strength < 1.0F)
        for (size_t i = 0; i < n; ++i)
            mask[i] = uint16_t(float(mask[i]) * strength + 0.5F);
}

} // namespace buttonhole
