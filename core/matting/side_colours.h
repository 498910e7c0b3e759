#pragma once

#include <opencv2/core.hpp>

#include <array>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <tuple>
#include <utility>
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

/// One of the ways to ask the tables what a pixel's colour says.
struct SideEvidence {
    ColourSort sort;
    bool isSmooth; ///< colours almost alike count a little as well
};
inline constexpr std::array kSideEvidence{
    SideEvidence{ColourSort::ShadeFree, false},
    SideEvidence{ColourSort::Plain, false},
    SideEvidence{ColourSort::ShadeFree, true},
};

/// For each pixel the share of evidence, 0..1, that its colour is of the mask's inside; 0.5: it
/// says nothing. By kSideEvidence.
using SideShares = std::array<cv::Mat1f, kSideEvidence.size()>;

/// What colours say of parts of the photo: between the middles of blocks counts are mixed.
class SideColours
{
public:
    explicit SideColours(SideTableSource tables) : m_tables(std::move(tables)) {}
    /// @param lab  OKLab of a part
    /// @param part where it is in the photo
    SideShares insideShares(const cv::Mat3f &lab, const cv::Rect &part);

private:
    /// Counts inside and outside by bin, and of all bins; none where nothing was seen.
    struct Counts {
        std::vector<cv::Vec2f> of;
        cv::Vec2f all;
    };
    using Block = std::array<Counts, kSideEvidence.size()>;

    const Block &blockAt(const cv::Point &at);
    static Counts countsOf(const SideTable &table, const SideEvidence &evidence);
    /// Between four middles. @param first of the pixels, from the upper left middle
    static void mixedShares(const std::array<const Counts *, 4> &corners, const cv::Mat1i &bins,
                            const cv::Point &first, cv::Mat1f &out);

    SideTableSource m_tables;
    std::map<std::pair<int, int>, Block> m_blocks; ///< by column and row, as far as they were used
};

} // namespace buttonhole
