#pragma once

#include "base/content.h"
#include "base/frame_scale.h"
#include "base/kind_table.h"
#include "base/memo.h"
#include "base/param.h"
#include "base/result.h"
#include "io/photo_levels.h"
#include "raster/mask_plane.h"

#include <nlohmann/json_fwd.hpp>

#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace buttonhole
{

/// How a step joins the mask made by the steps before it. Fuzz and Spill leave the mask alone, they
/// mark places: where the keep's soft edge reaches farther, and where its pixels take the colour of
/// what it keeps round about.
enum class Sign { Add, Subtract, OnlyInside, Fuzz, Spill };

constexpr bool isMark(Sign sign)
{
    return sign == Sign::Fuzz || sign == Sign::Spill;
}

std::string_view toWord(Sign sign); ///< "add", "subtract", "only-inside", "fuzz", "spill"
Result<Sign> signFromWord(std::string_view word);

/// Puts a step's rasters into a file being written; gives what to note in the JSON.
class MaskWriter
{
public:
    virtual ~MaskWriter() = default;
    /// What follows belongs to the shape with this content id.
    virtual void startShape(uint64_t content) = 0;
    virtual nlohmann::json put(const std::string &name, const MaskPlane &plane,
                               uint16_t outside) = 0;
};

/// Gives a step its rasters back. `notes` gathers sentences for the user.
class MaskReader
{
public:
    virtual ~MaskReader() = default;
    virtual Result<MaskPlane> get(const nlohmann::json &reference) = 0;

    int width = 0; ///< of the photo
    int height = 0;
    std::vector<std::string> notes;
};

/// What the ticket and the CLI tell of a step, by ids: {{"strokes", 2}}.
using StepFacts = std::vector<std::pair<std::string_view, double>>;

/// What a step of some kind holds: its parameters and rasters. Immutable and shared between takes.
class StepShape
{
public:
    virtual ~StepShape() = default;
    StepShape() = default;
    /// Shapes never change, so each is a content of its own.
    uint64_t content() const { return m_content; }
    StepShape(const StepShape &) = delete;
    StepShape &operator=(const StepShape &) = delete;

    /// The kind's id in files, e.g. "brush".
    virtual std::string kind() const = 0;
    /// What there is to tell of it besides its numbers.
    virtual StepFacts facts() const { return {}; }
    virtual bool isUnderstood() const { return true; }

    /// Limits between which the step brings the mask so far.
    enum class Effect {
        None,   ///< lo = 0 and hi = 65535 all over the area: nothing was written
        Raises, ///< only `lo` was written; hi = 65535
        Clamps, ///< both were written
    };
    /// A pure function, on any thread.
    /// @param levels the photo, for kinds that go by its pixels
    /// @param level  pyramid level; @param area pixels of that level
    /// @param lo,hi  area.area() values each, uint16 0..65535, rows of area.width()
    virtual Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                            uint16_t *hi) const = 0;
    /// coverage() goes by the photo's smaller levels too, not by level 0 alone.
    virtual bool needsLevels() const { return false; }

    /// The members of the step's JSON that belong to the kind. Without a writer, what can be
    /// rebuilt from parameters is left out.
    virtual void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const = 0;
    virtual void visitPlanes(const std::function<void(const MaskPlane &)> &) const {}

    /// What of it holds on other photos.
    enum class Holds {
        Anywhere, ///< it goes by what pixels look like
        ByFrame,  ///< it goes by the place in the frame
        Placed,   ///< it goes by what lies where on this photo
        Never     ///< it is made of this photo's pixels
    };
    virtual Holds holds() const { return Holds::Never; }
    /// The same on a photo of another size; to be solved anew where it was. Null: it holds never.
    virtual std::shared_ptr<const StepShape> placedBy(const FrameScale &) const { return nullptr; }

    // Its numbers, in the order of its kind's.
    virtual float number(size_t) const { return 0; }
    /// What else it is set to does not overrule that one.
    virtual bool usesNumber(size_t) const { return true; }
    virtual std::shared_ptr<const StepShape> withNumber(size_t index, float value) const;

protected:
    /// What the shape works out from a photo as a whole, made once and kept as long as the shape.
    template <class T>
    std::shared_ptr<const T> ofPhoto(const PhotoLevels &levels,
                                     const std::function<Memo::Value()> &make) const
    {
        return std::static_pointer_cast<const T>(m_ofPhoto.find(levels.content(), make));
    }

private:
    const uint64_t m_content = newContent();
    mutable Memo m_ofPhoto{2}; ///< by photo: takes may be carried from one to the next
};

/// One row per kind of step: all that a new kind registers.
struct StepKind {
    std::string_view id;
    Result<std::shared_ptr<const StepShape>> (*fromJson)(const nlohmann::json &json,
                                                         MaskReader &reader);
    std::vector<AnyParam> numbers = {};
};

KindTable<StepKind> &stepKinds();

/// A step whose kind is registered; others become an UnknownStep, which keeps its JSON as it is.
Result<std::shared_ptr<const StepShape>> stepFromJson(const nlohmann::json &json,
                                                      MaskReader &reader);

/// One move that shapes a keep's mask.
struct Step {
    uint64_t id = 0;
    Sign sign = Sign::Add;
    bool on = true;
    std::shared_ptr<const StepShape> shape;
    /// The step acts only inside this: kAnywhere, kWhatIsThere (the mask made by the steps before
    /// it), or what another step of the keep covers, by its id, even where that one is off. One
    /// that is gone limits nothing.
    uint64_t insideOf = kAnywhere;
    bool invert = false; ///< it covers everything but its shape

    static constexpr uint64_t kAnywhere = 0;
    static constexpr uint64_t kWhatIsThere = UINT64_MAX;

    /// What it covers, as StepShape::coverage().
    StepShape::Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                               uint16_t *hi) const;
};

/// Folds one step into the mask so far: add = clamp(mask, lo, hi); subtract = clamp by the mirrored
/// limits (65535 - hi, 65535 - lo); only inside = min(mask, lo).
/// @param mask, lo, hi n values, uint16 0..65535
void foldStep(Sign sign, StepShape::Effect effect, const uint16_t *lo, const uint16_t *hi,
              uint16_t *mask, size_t n);

} // namespace buttonhole
