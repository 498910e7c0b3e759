#include "segment/region_solver.h"

#include "raster/parallel_tiles.h"
#include "segment/cut.h"
#include "segment/labelled.h"
#include "segment/mark_stamp.h"
#include "segment/parts.h"
#include "segment/region_look.h"

#include <opencv2/imgproc.hpp>

#include <cmath>
#include <map>

namespace buttonhole
{

/// What was found with some marks.
struct RegionSolver::Known {
    RegionAsk ask;
    Labelled found;
    Labelled closeUp;  ///< what the last mark was looked at in; empty: all is new
    cv::Mat1b changed; ///< over that: 255 round what it changed
    bool addsOnly = true;
    ColourEvidence colours;
    std::map<int, MaskPlane> planes; ///< by the finest level: without what marks stamp

    /// This, as the closer look at one mark more corrects it.
    std::shared_ptr<Known> corrected(const RegionAsk &with, RegionLook &part) const;
};

namespace
{

constexpr int kWholeEdge = 500;     ///< long edge of the first look, px
constexpr int kPartEdge = 400;      ///< and of the second, round what was found
constexpr double kPartArea = 120e3; ///< of that round what a further mark opened, px
constexpr float kRegionTie = 2.5F;
constexpr float kMostLogit = 4;

/// @param inside  what each pixel is taken for, 0..1
/// @param isFirst what a further mark may change is not known yet: it says little
void learnColours(RegionLook &look, const cv::Mat1f &inside, bool isFirst)
{
    constexpr float kMarkWeight = 6; ///< marks are sure
    constexpr float kOpenWeight = 0.3F;
    const bool hasOpen = isFirst && !look.found.empty();
    look.colours = {};
    for (int y = 0; y < inside.rows; ++y)
        for (int x = 0; x < inside.cols; ++x) {
            if (!look.around.empty() && !look.around(y, x))
                continue;
            const bool isMark = look.keep(y, x) || look.leave(y, x);
            const bool isOpen = hasOpen && !isMark && look.closed(y, x) == 0;
            const float in = isOpen ? float(look.near(y, x) > 0.5F) : inside(y, x);
            const float weight = isMark ? kMarkWeight : isOpen ? kOpenWeight : 1;
            if (in > 0)
                look.colours.inside.add(look.bins(y, x), in * weight);
            if (in < 1)
                look.colours.outside.add(look.bins(y, x), (1 - in) * weight);
        }
    look.colours.inside.finish();
    look.colours.outside.finish();
}

void cutLook(RegionLook &look, float reach)
{
    constexpr float kMostColour = 3;
    constexpr float kLeastNear = 0.01F;
    const auto logit = [](float share) { return std::log(share / (1 - share)); };
    // A further mark says that the prior is wrong there, and wherever it is as sure.
    const bool corrects = !look.found.empty();
    const bool hasPrior = !look.prior.empty();
    const float wrong = corrects && hasPrior ? float(cv::mean(look.prior, look.last)[0]) : 0;
    const float weight = corrects ? 0.5F : 2;
    cv::Mat1f evidence(look.near.size());
    cv::Mat1b open(look.near.size(), 255);
    look.labels.create(look.near.size());
    for (int y = 0; y < evidence.rows; ++y)
        for (int x = 0; x < evidence.cols; ++x) {
            const bool isKeep = look.keep(y, x) != 0;
            const bool isLeave = look.leave(y, x) != 0;
            if (isKeep || isLeave || (!look.closed.empty() && look.closed(y, x))) {
                const bool wasIn = !look.found.empty() && look.found(y, x) != 0;
                open(y, x) = 0;
                look.labels(y, x) = isKeep || (!isLeave && wasIn) ? 255 : 0;
                continue;
            }
            const float colour =
                logit(shareOf(look.colours.inside, look.colours.outside, look.bins(y, x)));
            const float near = logit(std::clamp(look.near(y, x), kLeastNear, 1 - kLeastNear));
            const float elsewhere = hasPrior ? look.prior(y, x) - wrong : 0;
            evidence(y, x) = std::clamp(near + std::clamp(colour, -kMostColour, kMostColour) +
                                            weight * elsewhere + 2 * reach,
                                        -kMostLogit, kMostLogit);
        }
    cutGraph(look.frame.lab, evidence, look.labels, open, kRegionTie);
}

/// Drops what does not touch a keep mark (of what a box holds: small parts), and fills small
/// holes. What only adds drops nothing.
void tidy(RegionLook &look, bool hasBox)
{
    constexpr double kLarge = 0.2;  // of the largest part
    constexpr double kHoles = 0.01; // of all
    const bool onlyAdds = look.addsOnly && !look.found.empty();
    const cv::Mat1b seeds = onlyAdds ? cv::Mat1b(look.keep | look.found) : look.keep;
    const cv::Mat1b cut = look.labels;
    look.labels = partsTouching(cut, seeds, 8);
    if (hasBox)
        look.labels |= largeParts(cut, kLarge, 8);
    const cv::Mat1b outside(~look.labels);
    const cv::Mat1b holes = partsBelow(outside, kHoles * cv::countNonZero(look.labels), 4);
    look.labels |= holes & ~partsTouching(outside, look.leave, 4);
}

/// Learns, cuts, and learns from what was cut.
/// @param first what is inside to begin with; empty: by nearness
void solveLook(RegionLook &look, const RegionAsk &ask, bool atPhotoBorder, const cv::Mat1b &first)
{
    measureNearness(look, ask.reach, atPhotoBorder);
    cv::Mat1f inside;
    if (!first.empty())
        first.convertTo(inside, CV_32F, 1.0 / 255);
    else if (!look.found.empty())
        look.found.convertTo(inside, CV_32F, 1.0 / 255);
    else
        inside = cv::Mat1f(cv::max(cv::min((look.near - 0.5F) * 4, 1), 0));
    if (first.empty() && look.found.empty() && !look.prior.empty()) {
        cv::Mat1f elsewhere;
        cv::exp(-look.prior, elsewhere);
        inside = inside * (1 - look.priorTrust) + look.priorTrust / (1 + elsewhere);
    }
    inside.setTo(1, look.keep);
    inside.setTo(0, look.leave);
    // What a further mark's own cut says is mostly right, and confirms what is not: it is cut again
    // only where that brings more.
    const bool isFirst = look.found.empty();
    const int rounds = isFirst || look.addsOnly ? 2 : 1;
    for (int round = 0; round < rounds; ++round) {
        learnColours(look, inside, round == 0);
        if (round > 0 && !openAlike(look) && !isFirst)
            break;
        cutLook(look, ask.reach);
        tidy(look, ask.box.has_value());
        look.labels.convertTo(inside, CV_32F, 1.0 / 255);
    }
}

/// What was found, in the pixels of a look.
cv::Mat1b seenIn(const RegionLook &look, const Labelled &found)
{
    return found.over(look.frame.area, look.frame.lab.size());
}

/// A look at a thing whose answer is known: labelled, its colours learnt.
RegionLook lookAtThing(const PhotoLevels &levels, const RegionAsk &ask, const RegionPrior &thing,
                       float reach)
{
    constexpr int kAnswerEdge = 640;
    RegionLook look = lookAt(levels, ask, thing.area, kAnswerEdge);
    addPrior(look, thing);
    const float bar = -4 * reach * thing.trust; // larger: what is less sure, too
    look.labels = cv::Mat1b(look.prior > bar) & ~look.leave;
    look.labels |= look.keep;
    cv::Mat1f inside;
    look.labels.convertTo(inside, CV_32F, 1.0 / 255);
    learnColours(look, inside, false);
    return look;
}

/// A part of a look, with room round it, px of the photo.
Rect roomRound(const cv::Rect &part, const LookFrame &frame, double share, double px)
{
    const double room = share * std::max(part.width, part.height) + px;
    const auto inPhoto = [&](double v, int from) {
        return from + int(std::lround(v / frame.scale));
    };
    return intersected(frame.area, {inPhoto(part.x - room, frame.area.x0),
                                    inPhoto(part.y - room, frame.area.y0),
                                    inPhoto(part.br().x + room, frame.area.x0),
                                    inPhoto(part.br().y + room, frame.area.y0)});
}

/// Where to look more closely: at what was found and the marks; after a further mark at what it
/// opened only.
Rect closerArea(const RegionLook &look, const RegionAsk &ask)
{
    if (!look.found.empty())
        return roomRound(cv::boundingRect(cv::Mat1b(~look.closed | look.last)), look.frame, 0.5,
                         16);
    cv::Rect found = cv::boundingRect(look.labels | look.keep);
    if (ask.box)
        found |= boxIn(look.frame, *ask.box);
    return roomRound(found, look.frame, 0.25, 8);
}

/// The long edge of a look of kPartArea.
int edgeFor(const Rect &area)
{
    const double longer = std::max(area.width(), area.height());
    const double shorter = std::min(area.width(), area.height());
    return int(std::sqrt(kPartArea * longer / shorter));
}

/// 255 where labels differ from what was found before, and round that.
cv::Mat1b changedBy(const RegionLook &look)
{
    constexpr int kRound = 3; // px of the frame: what seeking the edge may move it by
    cv::Mat1b out;
    cv::dilate(look.labels != look.found, out,
               cv::getStructuringElement(cv::MORPH_RECT, {2 * kRound + 1, 2 * kRound + 1}));
    return out;
}

/// What is set, with room for the colours near by.
cv::Rect roomyBounds(const cv::Mat1b &mask)
{
    constexpr int kRoom = 8;
    const cv::Rect own = cv::boundingRect(mask);
    if (own.empty())
        return own;
    return cv::Rect(own.x - kRoom, own.y - kRoom, own.width + 2 * kRoom, own.height + 2 * kRoom) &
           cv::Rect({}, mask.size());
}

/// Takes over what a further mark added, or took away, where it changed something.
/// @param changed over `area`
void mergeChange(MaskPlane &plane, const MaskPlane &with, const Rect &area,
                 const cv::Mat1b &changed, bool addsOnly)
{
    std::vector<int> columns; ///< of `changed`, for each of the area
    for (int x = area.x0; x < area.x1; ++x)
        columns.push_back((x - area.x0) * changed.cols / area.width());
    parallelTiles(area, [&](const Rect &part) {
        std::vector<uint16_t> values(part.area());
        with.read(part, values.data(), size_t(part.width()));
        uint16_t *tile = nullptr;
        for (int y = part.y0; y < part.y1; ++y) {
            const uint8_t *in = changed[(y - area.y0) * changed.rows / area.height()];
            const uint16_t *from = values.data() + size_t(y - part.y0) * size_t(part.width());
            for (int x = part.x0; x < part.x1; ++x) {
                if (in[columns[size_t(x - area.x0)]] == 0)
                    continue;
                if (!tile)
                    tile = plane.writable(part.x0 / kTileSize, part.y0 / kTileSize);
                uint16_t &to = tile[size_t(y % kTileSize) * kTileSize + size_t(x % kTileSize)];
                const uint16_t value = from[x - part.x0];
                to = addsOnly ? std::max(to, value) : std::min(to, value);
            }
        }
        if (tile)
            plane.compact(part);
    });
}

} // namespace

std::span<const Param<RegionMark>> regionMarkParams()
{
    static constexpr Param<RegionMark> kParams[] = {
        {"radiusPx", [](RegionMark &m) -> float & { return m.radiusPx; }, 0.5F, 1500}};
    return kParams;
}

std::span<const Param<RegionAsk>> regionAskParams()
{
    static constexpr Param<RegionAsk> kParams[] = {
        {"reach", [](RegionAsk &a) -> float & { return a.reach; }, -1, 1, 1, {100}}};
    return kParams;
}

bool isSolvable(const RegionAsk &ask)
{
    const auto isKeep = [](const RegionMark &m) { return !m.isLeave && !m.points.empty(); };
    return std::any_of(ask.marks.begin(), ask.marks.end(), isKeep) ||
           (ask.box && !ask.box->isEmpty());
}

RegionAsk within(const Rect &photo, RegionAsk ask)
{
    if (ask.box) {
        const Rect seen = intersected(*ask.box, photo);
        ask.box = seen.isEmpty() ? std::nullopt : std::optional(seen);
    }
    std::erase_if(ask.marks, [&](const RegionMark &mark) {
        return std::none_of(mark.points.begin(), mark.points.end(), [&](const PhotoPoint &p) {
            return p.x >= float(photo.x0) && p.y >= float(photo.y0) && p.x < float(photo.x1) &&
                   p.y < float(photo.y1);
        });
    });
    return ask;
}

void RegionSolver::setPriors(RegionPriors priors, RegionPriors added)
{
    if (m_priors != priors)
        m_known.clear();
    m_priors = std::move(priors);
    const size_t marks = std::max(m_added.size(), added.size());
    m_added.resize(marks);
    added.resize(marks);
    for (size_t i = 0; i < marks; ++i)
        if (m_added[i] != added[i])
            std::erase_if(m_known, [&](const auto &known) { return known->ask.marks.size() > i; });
    m_added = std::move(added);
}

std::shared_ptr<RegionSolver::Known> RegionSolver::answered(const PhotoLevels &levels,
                                                            const RegionAsk &ask) const
{
    const auto prior = std::find_if(m_priors.begin(), m_priors.end(),
                                    [](const auto &each) { return each->isAnswer; });
    if (prior == m_priors.end())
        return nullptr;
    RegionLook look = lookAtThing(levels, ask, **prior, ask.reach);
    return std::make_shared<Known>(
        Known{ask, {(*prior)->area, look.labels}, {}, {}, true, std::move(look.colours), {}});
}

std::shared_ptr<RegionSolver::Known>
RegionSolver::withThing(const PhotoLevels &levels, const RegionAsk &ask, const Known &before) const
{
    const size_t mark = ask.marks.size() - 1;
    if (mark >= m_added.size() || !m_added[mark])
        return nullptr;
    RegionAsk marks = ask; // also beside its box
    marks.box.reset();
    RegionLook look = lookAtThing(levels, marks, *m_added[mark], 0);
    look.found = seenIn(look, before.found);
    look.labels |= look.found;
    return before.corrected(ask, look);
}

Result<std::shared_ptr<RegionSolver::Known>>
RegionSolver::knownFor(const PhotoLevels &levels, const RegionAsk &ask, const Run &run) const
{
    const Rect photo = levels.photo().rect();
    const Known *before = m_known.empty() ? nullptr : m_known.back().get();
    if (!before)
        if (auto known = answered(levels, ask))
            return known;
    if (before)
        if (auto known = withThing(levels, ask, *before))
            return known;
    RegionLook whole = lookAt(levels, ask, photo, kWholeEdge);

    if (before)
        whole.found = seenIn(whole, before->found);
    for (const auto &prior : m_priors)
        addPrior(whole, *prior);
    solveLook(whole, ask, true, {});
    if (run.stopped())
        return Error{ErrorKind::Cancelled, "region", {}};
    const Rect area = closerArea(whole, ask);
    RegionLook part = lookAt(levels, ask, area, before ? edgeFor(area) : kPartEdge);
    if (before)
        part.found = seenIn(part, before->found);
    for (const auto &prior : m_priors)
        addPrior(part, *prior);
    if (whole.addsOnly) { // what takes away looks again: there it sees more of the edge
        part.grewBy = whole.grewBy;
        part.restedAt = whole.restedAt;
    }
    const double finer = part.frame.scale / whole.frame.scale;
    part.largest = whole.largest * finer * finer;
    if (before)
        part.found = seenIn(part, before->found);
    solveLook(part, ask, area == photo, seenIn(part, {photo, whole.labels}));
    if (run.stopped())
        return Error{ErrorKind::Cancelled, "region", {}};
    if (before)
        return before->corrected(ask, part);
    return std::make_shared<Known>(
        Known{ask, {area, part.labels}, {}, {}, true, std::move(part.colours), {}});
}

std::shared_ptr<RegionSolver::Known> RegionSolver::Known::corrected(const RegionAsk &with,
                                                                    RegionLook &part) const
{
    const Labelled nowClose{part.frame.area, part.labels};
    const cv::Mat1b nowChanged = changedBy(part);
    const Rect seen = roomRound(cv::boundingRect(part.labels), part.frame, 0.25, 8);
    const Rect all = united(found.area, seen);
    const bool grew = !(all == found.area);
    const Labelled before = grew ? found.enlarged(all, kPartEdge) : found;
    const cv::Size size = before.labels.size();
    Labelled now{all, before.labels.clone()};
    nowClose.over(all, size).copyTo(now.labels,
                                    Labelled{nowClose.area, nowChanged}.over(all, size));
    return std::make_shared<Known>(
        Known{with, now, nowClose, nowChanged, part.addsOnly, std::move(part.colours), {}});
}

/// The plane of m_known[n]. That of the mark before is kept, since it comes next: others follow.
Result<MaskPlane> RegionSolver::planeOf(size_t n, const PhotoLevels &levels, int finest,
                                        const Run &run)
{
    Known &known = *m_known[n];
    const auto made = known.planes.find(finest);
    if (made != known.planes.end())
        return made->second;
    Result<MaskPlane> plane = MaskPlane();
    if (known.closeUp.area.isEmpty()) {
        plane = snapEdge(levels, known.found, known.colours, finest, run);
    } else {
        plane = planeOf(n - 1, levels, finest, run);
        const cv::Rect part = roomyBounds(known.changed);
        if (!plane || part.empty())
            return plane;
        const Labelled close{known.closeUp.inPhoto(part), known.closeUp.labels(part).clone()};
        const auto snapped = snapEdge(levels, close, known.colours, finest, run);
        if (!snapped)
            return snapped.error();
        mergeChange(*plane, *snapped, close.area, known.changed(part), known.addsOnly);
    }
    if (plane) {
        known.planes.emplace(finest, *plane);
        for (size_t i = 0; i + 1 < n; ++i)
            m_known[i]->planes.clear();
    }
    return plane;
}

Result<MaskPlane> RegionSolver::solve(const PhotoLevels &levels, const RegionAsk &asked,
                                      const Run &run, int finest)
{
    const RegionAsk ask = within(levels.photo().rect(), asked);
    if (!isSolvable(ask))
        return Error{ErrorKind::InvalidArgument, "region",
                     "a keep mark or a box on the photo is expected"};
    if (m_photo != levels.content())
        m_known.clear();
    m_photo = levels.content();
    RegionAsk some = ask;
    some.marks.clear();
    size_t n = 0; // of m_known that hold
    const auto solveSome = [&]() -> Result<void> {
        if (n < m_known.size() && m_known[n]->ask == some)
            return ++n, Result<void>();
        m_known.resize(n);
        auto known = knownFor(levels, some, run);
        if (!known)
            return known.error();
        m_known.push_back(std::move(*known));
        ++n;
        return {};
    };
    if (ask.box)
        if (auto done = solveSome(); !done)
            return done.error();
    for (const RegionMark &mark : ask.marks) {
        some.marks.push_back(mark);
        if (!isSolvable(some))
            continue;
        if (auto done = solveSome(); !done)
            return done.error();
    }
    m_known.resize(n);
    auto plane = planeOf(n - 1, levels, finest, run);
    if (plane)
        stampMarks(*plane, ask.marks);
    return plane;
}

} // namespace buttonhole
