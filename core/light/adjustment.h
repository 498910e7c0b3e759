#pragma once

#include "base/kind_table.h"
#include "base/param.h"
#include "light/source.h"

#include <nlohmann/json_fwd.hpp>

#include <memory>
#include <string>
#include <vector>

namespace buttonhole
{

/// A change of light, of some kind: what it is set to. Immutable and shared between takes.
class Adjustment
{
public:
    virtual ~Adjustment() = default;
    Adjustment() = default;
    Adjustment(const Adjustment &) = delete;
    Adjustment &operator=(const Adjustment &) = delete;

    /// The kind's id in files.
    virtual std::string_view kind() const = 0;
    virtual bool isUnderstood() const { return true; }
    /// Equal for what changes light equally.
    virtual uint64_t content() const = 0;
    /// Set so that it changes nothing.
    virtual bool isOff() const = 0;
    /// What it changes is light, not only where it lies.
    virtual bool changesLight() const { return !isOff(); }
    /// How far round a pixel it looks, px of the photo.
    virtual int reachPx() const { return 0; }
    /// As far as it reads its own level; what is wider it takes from coarser ones.
    virtual int readsAroundPx() const { return reachPx(); }
    /// Another source's light with the change made. It should go by what light is, not by what the
    /// space's red, green and blue are: by cones or OKLab, or the same for all three.
    virtual SourceRef over(SourceRef in) const = 0;
    /// So much less of it on what is kept in colour, 0..1; of the finish only.
    virtual float spared() const { return 0; }
    /// The same as over(), for a picture that is made smaller afterwards.
    /// @param pxPerDelivered px for one of what is delivered, 1 and more
    virtual SourceRef overFor(SourceRef in, [[maybe_unused]] double pxPerDelivered) const
    {
        return over(std::move(in));
    }
    /// Its members beside "kind".
    virtual void toJson(nlohmann::json &out) const = 0;

    // Its numbers, in the order of its kind's.
    virtual float number(size_t) const { return 0; }
    virtual std::shared_ptr<const Adjustment> withNumber(size_t index, float value) const = 0;
};

using AdjustmentRef = std::shared_ptr<const Adjustment>;

/// All that a new kind of adjustment registers.
struct AdjustmentKind {
    std::string_view id;
    int since = 1; ///< the version of the format that brought it
    std::vector<AnyParam> numbers;
    AdjustmentRef initial; ///< as one begins
    Result<AdjustmentRef> (*fromJson)(const nlohmann::json &in);
};

KindTable<AdjustmentKind> &adjustmentKinds();

/// One of a kind that is not registered becomes one that changes nothing and keeps its JSON.
/// Errors: InvalidArgument, by the member's name.
Result<AdjustmentRef> adjustmentFromJson(const nlohmann::json &in, std::vector<std::string> &notes);
void adjustmentToJson(nlohmann::json &out, const Adjustment &adjustment);

/// Errors: those of placeOf().
Result<AdjustmentRef> withNumber(const Adjustment &adjustment, std::string_view id, float value);

} // namespace buttonhole
