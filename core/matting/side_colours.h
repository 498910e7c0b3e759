#pragma once

#include <opencv2/core.hpp>

#include <array>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <tuple>
#include <vector>

namespace buttonhole
{

/// Px into a mask, negative outside; the edge lies between pixels.
/// @param mask 0..1, inside from a half
cv::Mat1f depthIn(const cv::Mat1f &mask);

/// Ways to count colours as one.
enum class ColourSort {
    ShadeFree, ///< in more or less light, see ColourBins
    Plain,     ///< alike in OKLab
};
inline constexpr std::array kColourSorts{ColourSort::ShadeFree, ColourSort::Plain};

/// Which side of a mask's edge colours are of in one block of the photo, though the edge is wrong
/// by some px: counts of those close to it.
struct SideTable {
    static constexpr int kBlock = 128; ///< px, the side of a block; the first one is at 0, 0

    struct Colour {
        int bin;
        float inside;
        float outside;
    };
    using Colours = std::vector<Colour>;
    std::array<Colours, kColourSorts.size()> sorted; ///< by ColourSort, as they came

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

/// The tables of a raster that is all there is of its mask, each made once.
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
    /// The share of evidence, 0..1, that pixels' colours are of the mask's inside; 0.5: they say
    /// nothing.
    cv::Mat1f insideShare(ColourSort sort) const;

private:
    /// Counts by bin; none where nothing was seen.
    struct Block {
        std::vector<float> inside;
        std::vector<float> outside;
        float allInside = 0;
        float allOutside = 0;
    };
    float insideShare(const std::vector<Block> &blocks, int bin, int x, int y) const;

    const cv::Mat3f m_lab;
    cv::Point m_first; ///< of the first pixel in the first block
    int m_columns = 0;
    std::vector<std::shared_ptr<const SideTable>> m_tables; ///< row by row
};

} // namespace buttonhole
