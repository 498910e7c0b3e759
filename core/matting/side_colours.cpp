#include "matting/side_colours.h"

#include "segment/colour_bins.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kBlock = SideTable::kBlock;
constexpr float kNone = 1e-3F; ///< instead of a sum of nothing

/// Rounded down, of negative numbers too.
int blockOf(int px)
{
    constexpr int kShift = 7;
    static_assert(kBlock == 1 << kShift);
    return px >> kShift;
}

constexpr int kPlain = 24; ///< bins for each of L, a and b

int plainBinOf(const cv::Vec3f &lab)
{
    constexpr float kMostChroma = 0.4F;
    const auto bin = [](float share) { return std::clamp(int(share * kPlain), 0, kPlain - 1); };
    const auto chromaBin = [&](float v) { return bin(0.5F + v / (2 * kMostChroma)); };
    return (bin(lab[0]) * kPlain + chromaBin(lab[1])) * kPlain + chromaBin(lab[2]);
}

int binOf(const cv::Vec3f &lab, ColourSort sort)
{
    return sort == ColourSort::Plain ? plainBinOf(lab) : ColourBins::binOf(lab[0], lab[1], lab[2]);
}

size_t binsOf(ColourSort sort)
{
    return sort == ColourSort::Plain ? kPlain * kPlain * kPlain : ColourBins::kBins;
}

/// How many bins there are along each axis, the last one's side by side.
std::array<int, 3> axesOf(ColourSort sort)
{
    if (sort == ColourSort::Plain)
        return {kPlain, kPlain, kPlain};
    return {ColourBins::kLightness, ColourBins::kChroma, ColourBins::kChroma};
}

/// Each bin's counts mixed with those of the bins beside it.
std::vector<cv::Vec2f> smoothed(std::vector<cv::Vec2f> counts, const std::array<int, 3> &axes)
{
    constexpr float kOwn = 0.6F;
    constexpr float kBeside = 0.2F;
    std::vector<cv::Vec2f> out(counts.size());
    size_t step = counts.size();
    for (const int n : axes) {
        const size_t span = step;
        step /= size_t(n);
        for (size_t i = 0; i < counts.size(); ++i) {
            const size_t at = i % span;
            out[i] = kOwn * counts[i];
            if (at >= step)
                out[i] += kBeside * counts[i - step];
            if (at + step < span)
                out[i] += kBeside * counts[i + step];
        }
        std::swap(counts, out);
    }
    return counts;
}

/// What lies deeper in the mask says nothing of its edge.
float nearEdgePx(float wrongByPx)
{
    constexpr float kLeastPx = 12;
    return std::max(kLeastPx, 2 * wrongByPx);
}

/// The probability of a side, by a prior and by how likely a colour is on either.
float posterior(float prior, float inside, float outside)
{
    constexpr float kUnseen = 1e-4F;
    const float own = prior * (inside + kUnseen);
    return own / (own + (1 - prior) * (outside + kUnseen));
}

/// What is inside tells which colours are, and these what is inside, a few times over.
SideTable::Colours sortedColours(const cv::Mat3f &lab, const cv::Mat1f &depth, float wrongByPx,
                                 ColourSort sort)
{
    constexpr int kRounds = 4;
    struct Sample {
        size_t at; ///< of its colour in the table
        float prior;
    };
    SideTable::Colours colours;
    std::vector<Sample> samples;
    std::vector<int> place(binsOf(sort), -1);
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x) {
            if (std::abs(depth(y, x)) > nearEdgePx(wrongByPx))
                continue;
            const int bin = binOf(lab(y, x), sort);
            int &at = place[size_t(bin)];
            if (at < 0) {
                at = int(colours.size());
                colours.push_back({bin, 0, 0});
            }
            samples.push_back({size_t(at), SideTable::prior(depth(y, x), wrongByPx)});
        }
    SideTable::Colours known;
    for (int round = 0; round <= kRounds; ++round) {
        known = colours;
        float allInside = kNone;
        float allOutside = kNone;
        for (SideTable::Colour &colour : colours) {
            allInside += colour.inside;
            allOutside += colour.outside;
            colour.inside = colour.outside = 0;
        }
        for (const Sample &s : samples) {
            const float share = round == 0 ? s.prior
                                           : posterior(s.prior, known[s.at].inside / allInside,
                                                       known[s.at].outside / allOutside);
            colours[s.at].inside += share;
            colours[s.at].outside += 1 - share;
        }
    }
    return colours;
}

} // namespace

cv::Mat1f depthIn(const cv::Mat1f &mask)
{
    const cv::Mat1b inside(mask >= 0.5F);
    cv::Mat1f in;
    cv::Mat1f out;
    cv::distanceTransform(inside, in, cv::DIST_L2, cv::DIST_MASK_5);
    cv::distanceTransform(~inside, out, cv::DIST_L2, cv::DIST_MASK_5);
    cv::Mat1f depth(in - out);
    depth -= cv::Mat1f(cv::Mat(inside)) * (1.0F / 255) - 0.5F;
    return depth;
}

cv::Rect SideTable::rectOf(const cv::Point &block)
{
    return {block * kBlock, cv::Size(kBlock, kBlock)};
}

int SideTable::margin(float wrongByPx)
{
    return int(std::ceil(nearEdgePx(wrongByPx))) + 2;
}

float SideTable::prior(float depthPx, float wrongByPx)
{
    constexpr float kDoubt = 0.02F;
    return std::clamp(0.5F + depthPx / (2 * wrongByPx), kDoubt, 1 - kDoubt);
}

SideTable SideTable::of(const cv::Mat3f &lab, const cv::Mat1f &depth, float wrongByPx)
{
    SideTable table;
    for (const ColourSort sort : kColourSorts)
        table.sorted[size_t(sort)] = sortedColours(lab, depth, wrongByPx, sort);
    return table;
}

SideTableSource tablesOf(const cv::Mat3f &lab, const cv::Mat1f &depth, const cv::Point &origin,
                         float wrongByPx)
{
    return [=, kept = std::make_shared<SideTables>()](const cv::Point &block) {
        return kept->find(0, block, [&] {
            const cv::Rect part = (SideTable::rectOf(block) - origin) & cv::Rect({}, lab.size());
            return SideTable::of(lab(part), depth(part), wrongByPx);
        });
    };
}

std::shared_ptr<const SideTable> SideTables::find(uint64_t mask, const cv::Point &block,
                                                  const std::function<SideTable()> &make) const
{
    const Key key{mask, block.x, block.y};
    {
        const std::scoped_lock lock(m_mutex);
        if (const auto it = m_tables.find(key); it != m_tables.end())
            return it->second;
    }
    auto made = std::make_shared<const SideTable>(make()); // by two at once now and then: the same
    const std::scoped_lock lock(m_mutex);
    if (m_tables.size() >= kMost)
        m_tables.clear();
    return m_tables.emplace(key, std::move(made)).first->second;
}

SideColours::Counts SideColours::countsOf(const SideTable &table, const SideEvidence &evidence)
{
    Counts out;
    const SideTable::Colours &colours = table.sorted[size_t(evidence.sort)];
    if (colours.empty())
        return out;
    out.of.resize(binsOf(evidence.sort));
    for (const SideTable::Colour &colour : colours)
        out.of[size_t(colour.bin)] = {colour.inside, colour.outside};
    if (evidence.isSmooth)
        out.of = smoothed(out.of, axesOf(evidence.sort));
    for (const cv::Vec2f &count : out.of)
        out.all += count;
    return out;
}

const SideColours::Block &SideColours::blockAt(const cv::Point &at)
{
    const auto [it, isNew] = m_blocks.try_emplace({at.x, at.y});
    if (isNew) {
        const auto table = m_tables(at);
        for (size_t i = 0; i < kSideEvidence.size(); ++i)
            it->second[i] = countsOf(*table, kSideEvidence[i]);
    }
    return it->second;
}

SideShares SideColours::insideShares(const cv::Mat3f &lab, const cv::Rect &part)
{
    constexpr int kHalf = kBlock / 2; // pixels mix the counts of the four middles round them
    std::array<cv::Mat1i, kColourSorts.size()> bins;
    for (const ColourSort sort : kColourSorts) {
        cv::Mat1i &own = bins[size_t(sort)];
        own.create(lab.size());
        std::transform(lab.begin(), lab.end(), own.begin(),
                       [&](const cv::Vec3f &colour) { return binOf(colour, sort); });
    }
    SideShares out;
    for (cv::Mat1f &shares : out)
        shares.create(lab.size());
    const cv::Point last = part.br() - cv::Point(1 + kHalf, 1 + kHalf);
    for (int row = blockOf(part.y - kHalf); row <= blockOf(last.y); ++row)
        for (int column = blockOf(part.x - kHalf); column <= blockOf(last.x); ++column) {
            const std::array corners{&blockAt({column, row}), &blockAt({column + 1, row}),
                                     &blockAt({column, row + 1}), &blockAt({column + 1, row + 1})};
            const cv::Point middle = cv::Point(column, row) * kBlock + cv::Point(kHalf, kHalf);
            const cv::Rect between = part & cv::Rect(middle, cv::Size(kBlock, kBlock));
            for (size_t i = 0; i < kSideEvidence.size(); ++i) {
                std::array<const Counts *, 4> counts{};
                std::transform(corners.begin(), corners.end(), counts.begin(),
                               [i](const Block *block) { return &(*block)[i]; });
                const cv::Rect here = between - part.tl();
                cv::Mat1f own = out[i](here);
                mixedShares(counts, bins[size_t(kSideEvidence[i].sort)](here),
                            between.tl() - middle, own);
            }
        }
    return out;
}

void SideColours::mixedShares(const std::array<const Counts *, 4> &corners, const cv::Mat1i &bins,
                              const cv::Point &first, cv::Mat1f &out)
{
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            const float across = (float(first.x + x) + 0.5F) / kBlock;
            const float down = (float(first.y + y) + 0.5F) / kBlock;
            const std::array shares{(1 - across) * (1 - down), across * (1 - down),
                                    (1 - across) * down, across * down};
            cv::Vec2f own;
            cv::Vec2f all(kNone, kNone);
            for (size_t i = 0; i < corners.size(); ++i) {
                if (corners[i]->of.empty())
                    continue;
                own += shares[i] * corners[i]->of[size_t(bins(y, x))];
                all += shares[i] * corners[i]->all;
            }
            out(y, x) = posterior(0.5F, own[0] / all[0], own[1] / all[1]);
        }
}

} // namespace buttonhole
