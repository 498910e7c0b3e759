#include "document/same_again.h"

#include "mask/region_step.h"
#include "subject/found_subjects.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

/// Looks for subjects of a photo once, and gives each away once.
class SubjectFinder
{
public:
    SubjectFinder(const Preset &preset, const PhotoLevels &levels, const Run &run)
        : m_levels(levels), m_run(run)
    {
        if (preset.width > 0)
            m_scale = {double(levels.photo().width) / preset.width,
                       double(levels.photo().height) / preset.height};
    }

    std::shared_ptr<const StepShape> find(const StepShape &like)
    {
        const auto *step = dynamic_cast<const RegionStep *>(&like);
        if (!step || !step->note() || !look())
            return nullptr;
        const std::string &word = step->note()->word;
        const Rect where = m_scale.of(placeOf(*step));
        const FoundSubject *best = nullptr;
        double least = 0;
        for (const FoundSubject &each : m_found) {
            const bool isOfKind =
                word.empty() ? each.group == SubjectGroup::Main : each.word == word;
            if (!isOfKind || std::count(m_given.begin(), m_given.end(), &each) > 0)
                continue;
            if (const double away = difference(each.box, where); !best || away < least) {
                best = &each;
                least = away;
            }
        }
        if (!best)
            return nullptr;
        m_given.push_back(best);
        SubjectNote note;
        note.word = best->word;
        note.ovals = best->ovals;
        return std::make_shared<RegionStep>(RegionAsk{{}, best->box, step->ask().reach},
                                            MaskPlane(), std::move(note));
    }
    const std::optional<Error> &problem() const { return m_problem; }

private:
    bool look()
    {
        if (m_hasLooked)
            return !m_problem;
        m_hasLooked = true;
        auto found = findSubjects(m_levels, m_run);
        if (!found) {
            m_problem = found.error();
            return false;
        }
        m_found = std::move(*found);
        return true;
    }

    /// Where it was on its own photo.
    static Rect placeOf(const RegionStep &step)
    {
        if (step.ask().box)
            return *step.ask().box;
        if (!step.note()->things.empty())
            return step.note()->things.front();
        Rect out;
        for (const RegionMark &mark : step.ask().marks)
            for (const PhotoPoint &point : mark.points)
                if (const Rect at{int(point.x), int(point.y), int(point.x) + 1, int(point.y) + 1};
                    !mark.isLeave)
                    out = out.isEmpty() ? at : united(out, at);
        return out;
    }

    /// Of two boxes, in shares of the photo: their middles and their sizes.
    double difference(const Rect &a, const Rect &b) const
    {
        const double edge = std::max(m_levels.photo().width, m_levels.photo().height);
        return std::hypot((a.x0 + a.x1 - b.x0 - b.x1) / 2.0, (a.y0 + a.y1 - b.y0 - b.y1) / 2.0) /
                   edge +
               std::abs(std::sqrt(double(a.area())) - std::sqrt(double(b.area()))) / edge;
    }

    const PhotoLevels &m_levels;
    Run m_run;
    FrameScale m_scale;
    bool m_hasLooked = false;
    std::optional<Error> m_problem;
    std::vector<FoundSubject> m_found;
    std::vector<const FoundSubject *> m_given;
};

template <class Line>
void compare(const std::vector<Line> &lines, const Preset &preset, const PhotoLevels &levels,
             CarryReport &report)
{
    for (const Line &line : lines) {
        const auto was = preset.seen.find(line.name);
        if (was == preset.seen.end())
            continue;
        CarriedLine one{line.name, 0, was->second, seenPart(levels, line)};
        one.sure = one.now ? likeness(*one.was, *one.now) : 0;
        report.lines.push_back(std::move(one));
    }
}

} // namespace

bool CarryReport::wantsALook() const
{
    const bool isLost = std::any_of(steps.begin(), steps.end(), [](const CarriedStep &step) {
        return step.how == CarriedStep::How::NotFound;
    });
    return isLost || std::any_of(lines.begin(), lines.end(),
                                 [](const CarriedLine &line) { return line.sure < kSure; });
}

float likeness(const SeenPart &a, const SeenPart &b)
{
    // In other light all of OKLab grows alike (as in ColourBins): its a and b by its L do not.
    const auto chromaOf = [](const SeenPart &part) {
        const double L = std::max(part.colour.L, 0.05);
        return std::pair(part.colour.a / L, part.colour.b / L);
    };
    const auto [aa, ab] = chromaOf(a);
    const auto [ba, bb] = chromaOf(b);
    constexpr double kOther = 0.12; // of a and b by L: another colour
    constexpr double kStops = 1.5;  // of its share of the frame, either way: another thing
    constexpr double kLightness = 0.35;
    const double colour = std::hypot(aa - ba, ab - bb) / kOther;
    const double size = std::abs(std::log2(std::max(a.share, 1e-6) / std::max(b.share, 1e-6)));
    const double light = std::abs(a.colour.L - b.colour.L) / kLightness;
    const double off = std::max({colour, size / kStops, light});
    return float(std::exp2(-off * off));
}

Result<Take> withPresetOn(Take take, const Preset &preset, const PhotoLevels &levels,
                          bool placesAll, CarryReport &report, const Run &run)
{
    SubjectFinder finder(preset, levels, run);
    const Photo &photo = levels.photo();
    const PresetUse use{photo.width, photo.height, placesAll,
                        [&](const StepShape &like) { return finder.find(like); }};
    take = withPreset(std::move(take), preset, use, report.steps);
    if (finder.problem())
        return *finder.problem();
    if (run.stopped())
        return Error{ErrorKind::Cancelled, photo.path, {}};
    compare(take.keeps, preset, levels, report);
    compare(take.tones, preset, levels, report);
    return take;
}

} // namespace buttonhole
