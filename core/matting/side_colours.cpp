#include "matting/side_colours.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kBlock = 64;   ///< px
constexpr float kAtEdge = 2; ///< px: mixtures

/// Rounded down, of negative numbers too.
int blockOf(int px)
{
    return (px >= 0 ? px : px - kBlock + 1) / kBlock;
}

int binOf(const cv::Vec3f &lab)
{
    return ColourBins::binOf(lab[0], lab[1], lab[2]);
}

} // namespace

int SideColours::reach(float nearEdgePx)
{
    return kBlock * 3 / 2 + int(std::ceil(nearEdgePx)) + 1;
}

SideColours::SideColours(const cv::Mat3f &lab, const cv::Mat1f &depth, cv::Point origin,
                         float nearEdgePx)
    : m_lab(lab)
{
    // One block more all round: pixels mix the counts of four.
    const cv::Point first(blockOf(origin.x) - 1, blockOf(origin.y) - 1);
    m_first = origin - first * kBlock;
    m_columns = (m_first.x + lab.cols) / kBlock + 2;
    m_blocks.resize(size_t(m_columns) * size_t((m_first.y + lab.rows) / kBlock + 2));
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x) {
            const float away = std::abs(depth(y, x));
            if (away < kAtEdge || away > nearEdgePx)
                continue;
            Block &block =
                m_blocks[size_t((m_first.y + y) / kBlock * m_columns + (m_first.x + x) / kBlock)];
            (depth(y, x) > 0 ? block.inside : block.outside)
                .add(binOf(lab(y, x)), std::min(1.0F, 2 * away / nearEdgePx));
        }
}

float SideColours::insideShare(int x, int y) const
{
    constexpr float kUnseen = 1e-3F;
    const float across = (float(m_first.x + x) + 0.5F) / kBlock - 0.5F;
    const float down = (float(m_first.y + y) + 0.5F) / kBlock - 0.5F;
    const int column = int(across);
    const int row = int(down);
    const int bin = binOf(m_lab(y, x));
    float inside = 0;
    float outside = 0;
    float allInside = 1e-6F;
    float allOutside = 1e-6F;
    for (const int i : {0, 1})
        for (const int j : {0, 1}) {
            const float share = std::abs(1 - float(i) - (across - float(column))) *
                                std::abs(1 - float(j) - (down - float(row)));
            const Block &block = m_blocks[size_t((row + j) * m_columns + column + i)];
            inside += share * block.inside.at(bin);
            outside += share * block.outside.at(bin);
            allInside += share * block.inside.sum();
            allOutside += share * block.outside.sum();
        }
    inside = inside / allInside + kUnseen;
    outside = outside / allOutside + kUnseen;
    return inside / (inside + outside);
}

} // namespace buttonhole
