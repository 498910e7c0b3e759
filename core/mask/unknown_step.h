#pragma once

#include "mask/step.h"

#include <nlohmann/json.hpp>

namespace buttonhole
{

/// A step that cannot be acted on: of a kind from a newer version, or with a part missing. Its JSON
/// goes back into the file unchanged (the container keeps its rasters too).
class UnknownStep final : public StepShape
{
public:
    explicit UnknownStep(nlohmann::json stored) : m_json(std::move(stored)) {}
    std::string kind() const override { return m_json.at("kind").get<std::string>(); }
    bool isUnderstood() const override { return false; }
    Effect coverage(const PhotoLevels &, int, const Rect &, uint16_t *, uint16_t *) const override
    {
        return Effect::None;
    }
    void toJson(nlohmann::json &out, MaskWriter *, const std::string &) const override
    {
        for (const auto &[key, value] : m_json.items())
            if (!out.contains(key))
                out[key] = value;
    }

private:
    nlohmann::json m_json;
};

} // namespace buttonhole
