#pragma once

#include "mask/step.h"

namespace buttonhole
{

/// Kind "picture": coverage given by a grey picture of the photo's size, made elsewhere.
class PictureStep final : public StepShape
{
public:
    explicit PictureStep(MaskPlane plane) : m_plane(std::move(plane)) {}
    /// Where the picture is missing the step is kept as it stands, without effect, with a note.
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &json,
                                                             MaskReader &reader);

    const MaskPlane &plane() const { return m_plane; }

    std::string kind() const override { return "picture"; }
    Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                    uint16_t *hi) const override;
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;
    void visitPlanes(const std::function<void(const MaskPlane &)> &visit) const override;

private:
    MaskPlane m_plane;
};

} // namespace buttonhole
