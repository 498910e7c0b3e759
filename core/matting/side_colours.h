#pragma once

#include <opencv2/core.hpp>

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <tuple>
#include <vector>

namespace buttonhole
{

/// Px into a mask, negative outside.
/// @param mask 0..1, inside from a half
cv::Mat1f depthIn(const cv::Mat1f &mask);

/// Which side of a mask's edge colours are of in one block of the photo, though the edge is wrong
/// by some px: counts of those close to it.
struct SideTable {
    static constexpr int kBlock = 128; ///< px, the side of a block; the first one is at 0, 0

    struct Colour {
        int bin; ///< of ColourBins
        float inside;
        float outside;
    };
    std::vector<Colour> colours; ///< by bin

    /// Where a block is in the photo, px.
    static cv::Rect rectOf(const cv::Point &block);
    /// How far around a block its depths must be known, px.
    static int margin(float wrongByPx);
    /// How sure the mask alone is that a pixel is inside, 0..1.
    static float prior(float depthPx, float wrongByPx);
    /// @param lab       OKLab of the block
    /// @param depth     px into the mask, of the same size
    /// @param wrongByPx so far the mask's edge may be from the true one
    /// Method: two mixtures of colours by expectation maximisation (A. Dempster, N. Laird, D.
    /// Rubin, "Maximum likelihood from incomplete data via the EM algorithm", 1977), with how deep
    /// in the mask a pixel lies as its prior.
    static SideTable of(const cv::Mat3f &lab, const cv::Mat1f &depth, float wrongByPx);
};

/// Gives the table of a block: column and row of those that stand still in the photo, so that parts
/// come out as the whole does.
using SideTableSource = std::function<std::shared_ptr<const SideTable>(const cv::Point &block)>;

/// The tables of a raster that is all there is of its mask.
/// @param lab    OKLab
/// @param depth  px into the mask, of the same size
/// @param origin of both in the photo
SideTableSource tablesOf(const cv::Mat3f &lab, const cv::Mat1f &depth, const cv::Point &origin,
                         float wrongByPx);

/// Tables of all masks of a photo, each made when it is first asked for. Thread-safe.
class SideTables
{
public:
    static constexpr size_t kMost = 4096; ///< of a few kB; then all are forgotten

    /// @param mask content id of the mask, with its level
    std::shared_ptr<const SideTable> find(uint64_t mask, const cv::Point &block,
                                          const std::function<SideTable()> &make) const;

private:
    using Key = std::tuple<uint64_t, int, int>;
    mutable std::mutex m_mutex;
    mutable std::map<Key, std::shared_ptr<const SideTable>> m_tables;
};

/// What colours say of a part of the photo: between the middles of blocks counts are mixed.
class SideColours
{
public:
    /// @param lab  OKLab of the part
    /// @param part where it is in the photo
    SideColours(const cv::Mat3f &lab, const cv::Rect &part, const SideTableSource &tables);
    /// The share of evidence, 0..1, that a pixel's colour is of the mask's inside; 0.5: it says
    /// nothing.
    float insideShare(int x, int y) const;

private:
    /// Counts by bin; none where nothing was seen.
    struct Block {
        std::vector<float> inside;
        std::vector<float> outside;
        float allInside = 0;
        float allOutside = 0;
    };

    const cv::Mat3f m_lab;
    cv::Point m_first; ///< of the first pixel in the first block
    int m_columns = 0;
    std::vector<Block> m_blocks;
};

} // namespace buttonhole
