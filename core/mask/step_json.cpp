#include "mask/step_json.h"

namespace buttonhole
{

using nlohmann::json;

void placesToJson(json &out, const std::vector<PhotoPoint> &places, const char *name)
{
    if (places.empty())
        return;
    json list = json::array();
    for (const PhotoPoint &place : places)
        list.push_back(json::array({place.x, place.y}));
    out[name] = std::move(list);
}

Result<PhotoPoint> pointFromJson(const json &in, const char *name)
{
    PhotoPoint out;
    if (!in.is_array() || in.size() < 2 || !in[0].is_number() || !in[1].is_number())
        return wrongInput(name, "[x, y] is expected");
    out = {in[0].get<float>(), in[1].get<float>()};
    if (!(std::abs(out.x) < kFarthestPx && std::abs(out.y) < kFarthestPx))
        return wrongInput(name, "the place is out of range");
    return out;
}

Result<std::vector<PhotoPoint>> placesFromJson(const json &in, const char *name)
{
    std::vector<PhotoPoint> out;
    const json list = in.value(name, json::array());
    if (list.size() > kMostPoints)
        return wrongInput(name, "there are more than 100000 points");
    for (const json &each : list) {
        const auto point = pointFromJson(each, name);
        if (!point)
            return point.error();
        out.push_back(*point);
    }
    return out;
}

} // namespace buttonhole
