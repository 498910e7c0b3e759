#include "light/adjustment.h"

#include "light/fine_light.h"
#include "light/frame.h"
#include "light/grain.h"
#include "light/lens.h"
#include "light/local_effects.h"
#include "light/mends.h"
#include "light/photo_light.h"
#include "light/point_curve.h"
#include "light/signature.h"
#include "light/tone_colours.h"
#include "light/vignette.h"

#include <nlohmann/json.hpp>

namespace buttonhole
{

namespace
{

using nlohmann::json;

/// Of a kind from a newer version: changes nothing, its JSON goes back into the file.
class UnknownAdjustment final : public Adjustment
{
public:
    explicit UnknownAdjustment(json in) : m_json(std::move(in)), m_kind(m_json.at("kind")) {}
    std::string_view kind() const override { return m_kind; }
    bool isUnderstood() const override { return false; }
    uint64_t content() const override { return 0; }
    bool isOff() const override { return true; }
    SourceRef over(SourceRef in) const override { return in; }
    void toJson(json &out) const override { out.update(m_json); }
    AdjustmentRef withNumber(size_t, float) const override
    {
        return std::make_shared<const UnknownAdjustment>(m_json);
    }

private:
    json m_json;
    std::string m_kind;
};

} // namespace

KindTable<AdjustmentKind> &adjustmentKinds()
{
    // Of Prepare: in the order in which light goes through them.
    static KindTable<AdjustmentKind> all(std::deque<AdjustmentKind>{
        Mends::makeKind(), Lens::makeKind(), NumberAdjustment<Noise>::makeKind(),
        NumberAdjustment<PhotoLight>::makeKind(), NumberAdjustment<PointCurve>::makeKind(),
        NumberAdjustment<Sharpness>::makeKind(), NumberAdjustment<Texture>::makeKind(),
        NumberAdjustment<Blur>::makeKind(), NumberAdjustment<Fog>::makeKind(),
        NumberAdjustment<Vignette>::makeKind(), NumberAdjustment<Grain>::makeKind(),
        NumberAdjustment<ToneColours>::makeKind(), NumberAdjustment<Frame>::makeKind(),
        Signature::makeKind()});
    return all;
}

Result<AdjustmentRef> adjustmentFromJson(const json &in, std::vector<std::string> &notes)
{
    const std::string id = in.at("kind").get<std::string>();
    if (const AdjustmentKind *kind = adjustmentKinds().find(id))
        return kind->fromJson(in);
    notes.push_back("An adjustment of the kind \"" + id +
                    "\" is from a newer version: it is kept but has no effect here.");
    return AdjustmentRef(std::make_shared<const UnknownAdjustment>(in));
}

void adjustmentToJson(json &out, const Adjustment &adjustment)
{
    adjustment.toJson(out);
    out["kind"] = adjustment.kind();
}

Result<AdjustmentRef> withNumber(const Adjustment &adjustment, std::string_view id, float value)
{
    const AdjustmentKind *kind = adjustmentKinds().find(adjustment.kind());
    const auto place = placeOf(
        kind ? std::span<const AnyParam>(kind->numbers) : std::span<const AnyParam>(), id, value);
    if (!place)
        return place.error();
    return adjustment.withNumber(*place, value);
}

} // namespace buttonhole
