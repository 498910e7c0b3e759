#include "mask/picture_step.h"

#include "mask/unknown_step.h"

#include <nlohmann/json.hpp>

namespace buttonhole
{

namespace
{
constexpr const char *kMissing = "missing.png"; ///< what no mask is ever written as
} // namespace

Result<std::shared_ptr<const StepShape>> PictureStep::fromJson(const nlohmann::json &stored,
                                                               MaskReader &reader)
{
    auto plane = reader.get(stored.at("mask"));
    if (plane)
        return std::shared_ptr<const StepShape>(std::make_shared<PictureStep>(std::move(*plane)));
    reader.notes.push_back("The picture of a mask step is missing or broken (" +
                           plane.error().subject + "): the step is kept but has no effect.");
    // Under its own name another step's picture may be written some day, and be taken for it.
    nlohmann::json kept = stored;
    if (plane.error().kind == ErrorKind::NotFound)
        kept["mask"]["file"] = kMissing;
    return std::shared_ptr<const StepShape>(std::make_shared<UnknownStep>(std::move(kept)));
}

StepShape::Effect PictureStep::coverage(const PhotoLevels &, int level, const Rect &area,
                                        uint16_t *lo, uint16_t *) const
{
    const Rect whole{area.x0 << level, area.y0 << level, area.x1 << level, area.y1 << level};
    uint16_t value = 0;
    if (m_plane.isUniform(whole, value) && value == 0)
        return Effect::None;
    m_plane.readReduced(level, area, lo, size_t(area.width()));
    return Effect::Raises;
}

void PictureStep::toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const
{
    if (writer)
        out["mask"] = writer->put(name, m_plane, 0);
}

void PictureStep::visitPlanes(const std::function<void(const MaskPlane &)> &visit) const
{
    visit(m_plane);
}

} // namespace buttonhole
