#include "subject/click_sizes.h"

#include "subject/net_picture.h"
#include "subject/salient.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kLoose = 0.1;   ///< room on each side of what was found, of its size
constexpr double kGoesOn = 0.25; ///< and on sides where it was cut

/// What an answer holds under the points.
struct UnderClick {
    Rect bounds;      ///< of its parts that the points touch; empty: they touch none
    double share = 0; ///< of the points that lie in it
};

UnderClick underClick(const cv::Mat1f &answer, const Rect &area,
                      const std::vector<PhotoPoint> &points)
{
    constexpr int kNear = 2; // values: a click beside a thin thing
    UnderClick out;
    cv::Mat1i parts;
    cv::Mat stats;
    cv::Mat centres;
    const int count =
        cv::connectedComponentsWithStats(cv::Mat1b(answer > 0.5F), parts, stats, centres, 8);
    std::vector<bool> touched(size_t(count), false);
    for (const PhotoPoint &point : points) {
        const cv::Point at = pixelOf(point, area, answer.size());
        const cv::Rect round = cv::Rect(at.x - kNear, at.y - kNear, 2 * kNear + 1, 2 * kNear + 1) &
                               cv::Rect({}, answer.size());
        int part = parts(at);
        if (part == 0) {
            double most = 0;
            cv::minMaxLoc(parts(round), nullptr, &most);
            part = int(most);
        }
        touched[size_t(part)] = true;
        out.share += part > 0 ? 1.0 / double(points.size()) : 0;
    }
    const double sx = double(area.width()) / answer.cols;
    const double sy = double(area.height()) / answer.rows;
    for (int i = 1; i < count; ++i) {
        if (!touched[size_t(i)])
            continue;
        const int x = stats.at<int>(i, cv::CC_STAT_LEFT);
        const int y = stats.at<int>(i, cv::CC_STAT_TOP);
        out.bounds =
            united(out.bounds,
                   {area.x0 + int(std::floor(x * sx)), area.y0 + int(std::floor(y * sy)),
                    area.x0 + int(std::ceil((x + stats.at<int>(i, cv::CC_STAT_WIDTH)) * sx)),
                    area.y0 + int(std::ceil((y + stats.at<int>(i, cv::CC_STAT_HEIGHT)) * sy))});
    }
    return out;
}

/// A loose box for what was seen of a thing in an area: looser where the area cut it.
Rect looseBox(const Rect &bounds, const Rect &area, const Rect &photo)
{
    constexpr double kRim = 0.02; // of the area
    const double rx = kRim * area.width();
    const double ry = kRim * area.height();
    const auto room = [](bool isCut, int size) {
        return int(std::lround((isCut ? kGoesOn : kLoose) * size));
    };
    const Rect out = {bounds.x0 - room(bounds.x0 < area.x0 + rx, bounds.width()),
                      bounds.y0 - room(bounds.y0 < area.y0 + ry, bounds.height()),
                      bounds.x1 + room(bounds.x1 > area.x1 - rx, bounds.width()),
                      bounds.y1 + room(bounds.y1 > area.y1 - ry, bounds.height())};
    return intersected(out, photo);
}

Rect boundsOf(const std::vector<PhotoPoint> &points)
{
    Rect out;
    for (const PhotoPoint &p : points) {
        const int x = int(std::floor(p.x));
        const int y = int(std::floor(p.y));
        out = united(out, {x, y, x + 1, y + 1});
    }
    return out;
}

} // namespace

ClickSizes::ClickSizes(const Rect &photo, std::vector<PhotoPoint> points,
                       const std::vector<Rect> &things)
    : m_points(std::move(points))
{
    constexpr double kShares[] = {0.12, 0.2, 0.35, 0.6, 1}; // of the long edge
    constexpr double kRoundStroke = 1.5;
    constexpr int kLeastSide = 64;
    constexpr double kNearly = 0.7;
    const int longEdge = std::max(photo.width(), photo.height());
    const Rect stroke = boundsOf(m_points);
    for (const double share : kShares) {
        const int side = int(std::lround(share * longEdge));
        // What was found before is looked at by its own box.
        const bool hasThing = std::any_of(things.begin(), things.end(), [&](const Rect &thing) {
            const double longer = std::max(thing.width(), thing.height());
            return longer > kNearly * side && side > kNearly * longer;
        });
        if (hasThing)
            continue;
        const int width = std::min(side, photo.width());
        const int height = std::min(side, photo.height());
        const bool isWhole = width == photo.width() && height == photo.height();
        if (!isWhole && (side < kLeastSide ||
                         std::max(stroke.width(), stroke.height()) * kRoundStroke > double(side)))
            continue;
        const int x = std::clamp((stroke.x0 + stroke.x1 - width) / 2, 0, photo.width() - width);
        const int y = std::clamp((stroke.y0 + stroke.y1 - height) / 2, 0, photo.height() - height);
        m_starts.push_back({{x, y, x + width, y + height}, false});
    }
    for (const Rect &thing : things)
        m_starts.push_back({thing, true});
    std::stable_sort(m_starts.begin(), m_starts.end(),
                     [](const Start &a, const Start &b) { return a.area.area() < b.area.area(); });
}

bool ClickSizes::isKnown(const Rect &bounds) const
{
    constexpr double kSame = 0.7;
    constexpr double kLarger = 1.1;
    return !m_bounds.empty() && (double(bounds.area()) < kLarger * double(m_bounds.back().area()) ||
                                 likeness(bounds, m_bounds.back()) > kSame);
}

Result<std::shared_ptr<const RegionPrior>> ClickSizes::settled(const PhotoLevels &levels, Rect box,
                                                               bool isThing, const Run &run)
{
    std::shared_ptr<const RegionPrior> unsure;
    constexpr int kRounds = 3;
    constexpr double kMostPoints = 2.0 / 3;
    const Rect photo = levels.photo().rect();
    for (int round = 0; round < kRounds; ++round) {
        ++m_looks;
        auto look = findSalient(levels, box, run, m_points);
        if (!look)
            return look.error();
        const cv::Mat1f inside(look->inside.height(), look->inside.width(), look->inside.row(0));
        const UnderClick under = underClick(inside, box, m_points);
        const bool isUnder = under.share >= kMostPoints;
        const bool isAnswer = look->isAnswer && isUnder;
        const bool isFirst = round == 0;
        look->isAnswer = isAnswer;
        const auto seen = std::make_shared<const RegionPrior>(std::move(*look));
        if (isAnswer)
            return seen;
        if (isThing && isFirst)
            unsure = seen;
        if (!isUnder)
            break;
        const Rect next = united(box, looseBox(under.bounds, box, photo));
        if (next == box)
            break;
        box = next;
    }
    return unsure;
}

Result<ClickSizes::Sight> ClickSizes::seenIn(const PhotoLevels &levels, const Rect &window,
                                             const Run &run) const
{
    const auto draft = draftSalient(levels, window, run);
    if (!draft)
        return draft.error();
    const Rect bounds = underClick(*draft, window, m_points).bounds;
    constexpr double kSpeck = 0.1; // of the window
    const bool isSpeck =
        bounds.width() < kSpeck * window.width() && bounds.height() < kSpeck * window.height();
    Sight out{isSpeck ? Rect{} : bounds, Image<float>(draft->cols, draft->rows, 1)};
    draft->copyTo(cv::Mat1f(draft->rows, draft->cols, out.shown.row(0)));
    return out;
}

Result<Rect> ClickSizes::boxOf(const PhotoLevels &levels, Start &start, const Run &run) const
{
    if (start.isThing)
        return isKnown(start.area) ? Rect{} : start.area;
    if (!start.seen) {
        const auto sight = seenIn(levels, start.area, run);
        if (!sight)
            return sight.error();
        start.seen = sight->bounds;
    }
    return start.seen->isEmpty() || isKnown(*start.seen)
               ? Rect{}
               : looseBox(*start.seen, start.area, levels.photo().rect());
}

Result<std::shared_ptr<const RegionPrior>> ClickSizes::glimpse(const PhotoLevels &levels,
                                                               const Run &run)
{
    for (size_t i = m_next; m_found.empty() && i < m_starts.size() && !m_starts[i].isThing; ++i) {
        Start &start = m_starts[i];
        if (start.seen)
            continue;
        auto sight = seenIn(levels, start.area, run);
        if (!sight)
            return sight.error();
        start.seen = sight->bounds;
        if (!start.seen->isEmpty())
            return std::make_shared<const RegionPrior>(
                RegionPrior{start.area, std::move(sight->shown), 1, true});
    }
    return std::shared_ptr<const RegionPrior>();
}

Result<void> ClickSizes::startFrom(const PhotoLevels &levels, const MaskPlane &grown, int level,
                                   const Run &run)
{
    constexpr double kAgrees = 0.8; // likeness of what grew and what the network sees there
    constexpr double kIsFlat = 0.9; // of a window: it shows that alone
    const int scale = 1 << level;
    const Rect whole = levels.rectOf(level);
    cv::Mat1w mask(whole.height(), whole.width());
    grown.readReduced(level, whole, mask[0], size_t(mask.cols));
    const cv::Mat1b colour(mask > 0x7fff);
    const auto partOf = [&](const Rect &area) {
        const cv::Rect part(area.x0 / scale, area.y0 / scale, std::max(1, area.width() / scale),
                            std::max(1, area.height() / scale));
        return cv::Mat1b(colour(part & cv::Rect({}, colour.size())));
    };
    if (const cv::Rect seen = cv::boundingRect(colour); !seen.empty()) {
        const Rect photo = levels.photo().rect();
        const Rect box =
            looseBox({seen.x * scale, seen.y * scale, seen.br().x * scale, seen.br().y * scale},
                     photo, photo);
        const auto draft = draftSalient(levels, box, run);
        if (!draft)
            return draft.error();
        const cv::Mat1b stands(*draft > 0.5F);
        cv::Mat1b there;
        cv::resize(partOf(box), there, stands.size(), 0, 0, cv::INTER_NEAREST);
        std::erase_if(m_starts, [&](const Start &start) {
            const cv::Mat1b part = partOf(start.area);
            return !start.isThing && cv::countNonZero(part) > kIsFlat * double(part.total());
        });
        if (cv::countNonZero(stands & there) > kAgrees * cv::countNonZero(stands | there))
            m_starts.insert(m_starts.begin(), {box, true});
    }
    m_isNew = false;
    return {};
}

Result<void> ClickSizes::findMore(const PhotoLevels &levels, const Run &run)
{
    Start &start = m_starts[m_next];
    const Result<Rect> box = boxOf(levels, start, run);
    if (!box)
        return box.error();
    if (!box->isEmpty()) {
        const int looksBefore = m_looks;
        auto thing = settled(levels, *box, start.isThing, run);
        if (!thing) {
            m_looks = looksBefore; // that counts when it is done again
            return thing.error();
        }
        if (*thing) {
            const RegionPrior &prior = **thing;
            const cv::Mat1f inside(prior.inside.height(), prior.inside.width(),
                                   const_cast<float *>(prior.inside.row(0)));
            const Rect bounds =
                prior.isAnswer ? underClick(inside, prior.area, m_points).bounds : start.area;
            if (!isKnown(bounds)) {
                m_bounds.push_back(bounds);
                m_found.push_back(std::move(*thing));
            }
        }
    }
    ++m_next;
    return {};
}

Result<std::shared_ptr<const RegionPrior>> ClickSizes::nth(const PhotoLevels &levels, size_t n,
                                                           const Run &run)
{
    constexpr int kMostLooks = 5; // a click is not worth more where nothing comes of it
    while (m_found.size() <= n && m_next < m_starts.size() &&
           !(m_found.empty() && m_looks >= kMostLooks))
        if (auto done = findMore(levels, run); !done)
            return done.error();
    if (m_found.empty())
        return std::shared_ptr<const RegionPrior>();
    return m_found[std::min(n, m_found.size() - 1)];
}

} // namespace buttonhole
