#include "mask/region_step.h"

#include "mask/step_json.h"

namespace buttonhole
{

namespace
{

using nlohmann::json;

Result<RegionMark> markFromJson(const json &in)
{
    RegionMark mark;
    if (auto fine = paramsFromJson(in, mark, regionMarkParams(), "region "); !fine)
        return fine.error();
    auto points = placesFromJson(in, "points");
    if (!points)
        return points.error();
    if (points->empty())
        return wrongInput("region points", "a mark needs at least one point");
    mark.points = std::move(*points);
    mark.isLeave = in.value("leave", false);
    return mark;
}

Result<Rect> boxFromJson(const json &in)
{
    if (!in.is_array() || in.size() != 4)
        return wrongInput("region box", "[x0, y0, x1, y1] is expected");
    int sides[4];
    for (size_t i = 0; i < 4; ++i) {
        const double side = in[i].get<double>();
        if (!(std::abs(side) <= double(kFarthestPx)))
            return wrongInput("region box", "a side is out of range");
        sides[i] = int(side);
    }
    return Rect{sides[0], sides[1], sides[2], sides[3]};
}

json boxToJson(const Rect &box)
{
    return {box.x0, box.y0, box.x1, box.y1};
}

Result<SubjectNote> noteFromJson(const json &in)
{
    SubjectNote note;
    note.word = in.value("word", "");
    note.models = in.value("models", "");
    for (const auto &[name, boxes] : {std::pair{"ovals", &note.ovals}, {"things", &note.things}})
        for (const json &each : in.value(name, json::array())) {
            const auto box = boxFromJson(each);
            if (!box)
                return box.error();
            boxes->push_back(*box);
        }
    return note;
}

json noteToJson(const SubjectNote &note)
{
    json out{{"word", note.word}, {"models", note.models}};
    for (const Rect &oval : note.ovals)
        out["ovals"].push_back(boxToJson(oval));
    for (const Rect &thing : note.things)
        out["things"].push_back(boxToJson(thing));
    return out;
}

} // namespace

RegionStep::RegionStep(RegionAsk ask, MaskPlane plane, std::optional<SubjectNote> note)
    : m_ask(std::move(ask)), m_plane(std::move(plane)), m_note(std::move(note))
{
}

StepFacts RegionStep::facts() const
{
    return {{"box", m_ask.box.has_value()}, {"marks", double(m_ask.marks.size())}};
}

StepShape::Effect RegionStep::coverage(const PhotoLevels &levels, int level, const Rect &area,
                                       uint16_t *lo, uint16_t *) const
{
    const auto solved = [&]() -> Memo::Value {
        auto plane = m_note ? SubjectSolver().solve(levels, m_ask, *m_note)
                            : RegionSolver().solve(levels, m_ask);
        return std::make_shared<const MaskPlane>(plane ? std::move(*plane) : MaskPlane());
    };
    std::shared_ptr<const MaskPlane> own;
    if (m_plane.isEmpty())
        own = ofPhoto<MaskPlane>(levels, solved);
    const MaskPlane &plane = own ? *own : m_plane;
    const Rect whole{area.x0 << level, area.y0 << level, area.x1 << level, area.y1 << level};
    uint16_t value = 0;
    if (plane.isEmpty() || (plane.isUniform(whole, value) && value == 0))
        return Effect::None;
    plane.readReduced(level, area, lo, size_t(area.width()));
    return Effect::Raises;
}

void RegionStep::toJson(json &out, MaskWriter *writer, const std::string &name) const
{
    json marks = json::array();
    for (const RegionMark &mark : m_ask.marks) {
        json each = json::object();
        paramsToJson(each, mark, regionMarkParams(), ParamsWritten::All);
        placesToJson(each, mark.points, "points");
        if (mark.isLeave)
            each["leave"] = true;
        marks.push_back(std::move(each));
    }
    out["marks"] = std::move(marks);
    if (m_ask.box)
        out["box"] = boxToJson(*m_ask.box);
    if (m_note)
        out["subject"] = noteToJson(*m_note);
    paramsToJson(out, m_ask, regionAskParams(), ParamsWritten::All);
    if (writer && !m_plane.isEmpty())
        out["mask"] = writer->put(name, m_plane, 0);
}

Result<std::shared_ptr<const StepShape>> RegionStep::fromJson(const json &in, MaskReader &reader)
{
    RegionAsk ask;
    if (auto fine = paramsFromJson(in, ask, regionAskParams(), "region "); !fine)
        return fine.error();
    for (const json &each : in.value("marks", json::array())) {
        auto mark = markFromJson(each);
        if (!mark)
            return mark.error();
        ask.marks.push_back(std::move(*mark));
    }
    if (in.contains("box")) {
        const auto box = boxFromJson(in.at("box"));
        if (!box)
            return box.error();
        ask.box = *box;
    }
    std::optional<SubjectNote> note;
    if (in.value("kind", "") == "subject") {
        auto read = noteFromJson(in.value("subject", json::object()));
        if (!read)
            return read.error();
        note = std::move(*read);
    }
    if (!isSolvable(ask))
        return wrongInput("region marks", "a mark that keeps something, or a box, is expected");
    MaskPlane plane;
    if (in.contains("mask")) {
        auto stored = reader.get(in.at("mask"));
        if (stored)
            plane = std::move(*stored);
        else
            reader.notes.emplace_back("The mask of a region was missing or broken; it was grown "
                                      "again from its marks.");
    }
    return std::shared_ptr<const StepShape>(
        std::make_shared<RegionStep>(std::move(ask), std::move(plane), std::move(note)));
}

void RegionStep::visitPlanes(const std::function<void(const MaskPlane &)> &visit) const
{
    if (!m_plane.isEmpty())
        visit(m_plane);
}

std::shared_ptr<const StepShape> RegionStep::placedBy(const FrameScale &scale) const
{
    RegionAsk ask = m_ask;
    for (RegionMark &mark : ask.marks) {
        const auto &radius = paramNamed(regionMarkParams(), "radiusPx");
        mark.radiusPx =
            std::clamp(float(double(mark.radiusPx) * scale.length()), radius.least, radius.most);
        for (PhotoPoint &point : mark.points)
            point = scale.of(point);
    }
    if (ask.box)
        ask.box = scale.of(*ask.box);
    std::optional<SubjectNote> note = m_note;
    if (note)
        for (std::vector<Rect> *boxes : {&note->ovals, &note->things})
            for (Rect &each : *boxes)
                each = scale.of(each);
    return std::make_shared<RegionStep>(std::move(ask), MaskPlane(), std::move(note));
}

} // namespace buttonhole
