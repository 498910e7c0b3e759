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
    const cv::Mat1b inside = mask >= 0.5F;
    cv::Mat1f in;
    cv::Mat1f out;
    cv::distanceTransform(inside, in, cv::DIST_L2, cv::DIST_MASK_5);
    cv::distanceTransform(~inside, out, cv::DIST_L2, cv::DIST_MASK_5);
    cv::Mat1f depth = in - out;
    depth -= cv::Mat1f(inside) * (1.0F / 255) - 0.5F;
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

SideColours::SideColours(const cv::Mat3f &lab, const cv::Rect &part, const SideTableSource &tables)
    : m_lab(lab)
{
    constexpr int kHalf = kBlock / 2; // pixels mix the counts of the four middles round them
    const cv::Point first(blockOf(part.x - kHalf), blockOf(part.y - kHalf));
    const cv::Point last(blockOf(part.br().x + kHalf), blockOf(part.br().y + kHalf));
    m_first = part.tl() - first * kBlock;
    m_columns = last.x - first.x + 1;
    for (int y = first.y; y <= last.y; ++y)
        for (int x = first.x; x <= last.x; ++x)
            m_tables.push_back(tables({x, y}));
}

cv::Mat1f SideColours::insideShare(ColourSort sort) const
{
    std::vector<Block> blocks(m_tables.size());
    for (size_t i = 0; i < blocks.size(); ++i) {
        const SideTable::Colours &colours = m_tables[i]->sorted[size_t(sort)];
        if (colours.empty())
            continue;
        Block &block = blocks[i];
        block.inside.assign(binsOf(sort), 0);
        block.outside.assign(binsOf(sort), 0);
        for (const SideTable::Colour &colour : colours) {
            block.inside[size_t(colour.bin)] = colour.inside;
            block.outside[size_t(colour.bin)] = colour.outside;
            block.allInside += colour.inside;
            block.allOutside += colour.outside;
        }
    }
    cv::Mat1f out(m_lab.size());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x)
            out(y, x) = insideShare(blocks, binOf(m_lab(y, x), sort), x, y);
    return out;
}

float SideColours::insideShare(const std::vector<Block> &blocks, int bin, int x, int y) const
{
    const float across = (float(m_first.x + x) + 0.5F) / kBlock - 0.5F;
    const float down = (float(m_first.y + y) + 0.5F) / kBlock - 0.5F;
    const int column = int(across);
    const int row = int(down);
    float inside = 0;
    float outside = 0;
    float allInside = kNone;
    float allOutside = kNone;
    for (const int i : {0, 1})
        for (const int j : {0, 1}) {
            const Block &block = blocks[size_t(row + j) * size_t(m_columns) + size_t(column + i)];
            if (block.inside.empty())
                continue;
            const float share = std::abs(1 - float(i) - (across - float(column))) *
                                std::abs(1 - float(j) - (down - float(row)));
            inside += share * block.inside[size_t(bin)];
            outside += share * block.outside[size_t(bin)];
            allInside += share * block.allInside;
            allOutside += share * block.allOutside;
        }
    return posterior(0.5F, inside / allInside, outside / allOutside);
}

} // namespace buttonhole
