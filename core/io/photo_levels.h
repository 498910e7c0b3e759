#pragma once

#include "base/content.h"
#include "base/memo.h"
#include "io/photo.h"

#include <functional>

namespace buttonhole
{

/// A photo with its pyramid: level n has half the sides of level n - 1 (rounded up), as means in
/// linear light. Immutable; a third of the photo's memory on top.
class PhotoLevels
{
public:
    /// Levels down to a long edge of about 256 px. Errors: Cancelled.
    static Result<std::shared_ptr<const PhotoLevels>> make(std::shared_ptr<const Photo> photo,
                                                           const Run &run = {});
    /// Opens a photo and makes its levels; where the codec allows, while it is being decoded.
    /// @param needed asked once its size is known, on any thread, maybe again; no: level 0 only
    /// Errors: those of loadPhoto().
    using LevelsNeeded = std::function<bool(int width, int height)>;
    static Result<std::shared_ptr<const PhotoLevels>>
    load(const std::string &path, const Run &run = {}, const LevelsNeeded &needed = {});
    /// Level 0 only: for exports, which need no other.
    static std::shared_ptr<const PhotoLevels> makeFlat(std::shared_ptr<const Photo> photo);

    const Photo &photo() const { return *m_photo; }
    const SourceColour &colour() const { return m_colour; }
    uint64_t content() const { return m_content; }
    int count() const { return int(m_reduced.size()) + 1; }
    const PhotoPixels &level(int n) const
    {
        return n == 0 ? m_photo->pixels : m_reduced[size_t(n) - 1];
    }
    Rect rectOf(int n) const
    {
        return {0, 0, sizeAtLevel(m_photo->width, n), sizeAtLevel(m_photo->height, n)};
    }
    /// The largest level whose long edge is at most `longEdge` px; the smallest there is if none.
    int levelWithin(int longEdge) const;
    size_t bytes() const;
    /// What was worked out from the whole picture, kept as long as the photo. For what there is one
    /// of; what each step works out, the step keeps (StepShape::ofPhoto).
    Memo &memo() const { return m_memo; }

private:
    explicit PhotoLevels(std::shared_ptr<const Photo> photo);
    std::shared_ptr<const Photo> m_photo;
    SourceColour m_colour;
    std::vector<PhotoPixels> m_reduced;
    mutable Memo m_memo{10};
    const uint64_t m_content = newContent();
};

/// How a colour pixel of the photo reads, for the status line and the tint.
struct PixelReading {
    double lightness = 0; ///< OKLab L, 0..1
    double chroma = 0;    ///< OKLab C
    double hueDeg = 0;    ///< 0..360; meaningless at chroma below 0.02
};
PixelReading readPixel(const PhotoLevels &levels, int x, int y);

/// The hue that this photo has least of, degrees of OKLCh: the emptiest 40 degree window of the
/// histogram of hue weighted by chroma, taken from a reduced level.
double findRarestHueDeg(const PhotoLevels &levels);

} // namespace buttonhole
