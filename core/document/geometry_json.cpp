#include "document/geometry_json.h"

#include "base/param_json.h"
#include "document/json_text.h"

#include <nlohmann/json.hpp>

namespace buttonhole
{

using nlohmann::json;

namespace
{

/// A whole number that is a pixel's; -1: none.
int pixelFrom(const json &in, const char *name)
{
    const int64_t value = wholeFrom(in.at(name));
    return value >= 0 && value <= kMostPx ? int(value) : -1;
}

} // namespace

json rectToJson(const Rect &rect)
{
    return {{"x", rect.x0}, {"y", rect.y0}, {"width", rect.width()}, {"height", rect.height()}};
}

Rect rectFromJson(const json &in)
{
    const int x = pixelFrom(in, "x");
    const int y = pixelFrom(in, "y");
    return {x, y, x + pixelFrom(in, "width"), y + pixelFrom(in, "height")};
}

json geometryToJson(const Geometry &geometry)
{
    json out{{"mirrored", geometry.isMirrored}, {"quarterTurns", geometry.quarterTurns}};
    if (const Rect &crop = geometry.crop; !crop.isEmpty())
        out["crop"] = rectToJson(crop);
    if (geometry.deliverWidth > 0)
        out["deliver"] = {{"width", geometry.deliverWidth}, {"height", geometry.deliverHeight}};
    if (!geometry.straightening.isNone())
        paramsToJson(out["straighten"], geometry.straightening, Straightening::rows());
    return out;
}

Result<Geometry> geometryFromJson(const json &in, MaskReader &reader)
{
    Geometry out;
    out.isMirrored = in.value("mirrored", false);
    out.quarterTurns = int(std::clamp<int64_t>(wholeFrom(in, "quarterTurns", 0), -1, 4));
    if (const auto crop = in.find("crop"); crop != in.end()) {
        out.crop = rectFromJson(*crop);
        if (out.crop == Rect())
            out.crop.x1 = -1; // nothing is left of the photo: not what all of it is written as
        const Rect inside = intersected(out.crop, Rect{0, 0, reader.width, reader.height});
        if (inside.isEmpty())
            reader.notes.push_back("The crop lies beside this photo: all of the photo is used.");
        else if (inside != out.crop)
            reader.notes.push_back("The crop reaches beyond this photo: what lies inside is used.");
    }
    if (const auto deliver = in.find("deliver"); deliver != in.end()) {
        out.deliverWidth = pixelFrom(*deliver, "width");
        out.deliverHeight = pixelFrom(*deliver, "height");
    }
    if (const auto member = in.find("straighten"); member != in.end())
        if (auto fine = paramsFromJson(*member, out.straightening, Straightening::rows(),
                                       "geometry.straighten.");
            !fine)
            return fine.error();
    if (auto fine = check(out); !fine)
        return Error{fine.error().kind, "geometry." + fine.error().subject, fine.error().detail};
    return out;
}

} // namespace buttonhole
