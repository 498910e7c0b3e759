#include "window/window_state.h"

#include "document/json_text.h"

namespace buttonhole::app
{

std::string windowJson(const Session &session, const Canvas &canvas)
{
    const ViewTransform &view = canvas.transform();
    const Seen &seen = canvas.seen();
    const TicketLine &line = session.line();
    return nlohmann::json{{"fitted", view.isFitted()},
                          {"scale", view.scale()},
                          {"centre", {view.centre().x(), view.centre().y()}},
                          {"view", int(seen.view)},
                          {"split", seen.split},
                          {"splitAt", seen.splitAt},
                          {"line", {int(line.kind), line.lineId, line.stepId}}}
        .dump();
}

void restoreWindow(const std::string &json, Session &session, Canvas &canvas)
{
    // A window state that does not fit is no reason to refuse the work.
    const auto in = nlohmann::json::parse(json, nullptr, false);
    if (!in.is_object())
        return;
    try {
        Seen seen;
        seen.view = View(std::clamp<int64_t>(wholeFrom(in, "view", 0), 0, int(View::Clipped)));
        seen.split = in.value("split", false);
        seen.splitAt = std::clamp(in.value("splitAt", 0.5), 0.0, 1.0);
        canvas.setSeen(seen);
        if (!in.value("fitted", true)) {
            const auto &centre = in.at("centre");
            canvas.restoreView(in.at("scale").get<double>(),
                               {centre.at(0).get<double>(), centre.at(1).get<double>()});
        }
        const auto &line = in.at("line");
        const auto kind =
            std::clamp<int64_t>(wholeFrom(line.at(0)), 0, int64_t(TicketLine::Kind::Removal));
        session.select({TicketLine::Kind(kind), uint64_t(wholeFrom(line.at(1))),
                        uint64_t(wholeFrom(line.at(2)))});
    } catch (const nlohmann::json::exception &) {
        return;
    }
}

} // namespace buttonhole::app
