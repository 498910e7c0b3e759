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
        : m_preset(preset), m_levels(levels), m_run(run)
    {
        if (preset.width > 0)
            m_scale = {double(levels.photo().width) / preset.width,
                       double(levels.photo().height) / preset.height};
    }

    std::shared_ptr<const StepShape> find(const std::string &line, const StepShape &like)
    {
        const auto *step = dynamic_cast<const RegionStep *>(&like);
        if (!step || !step->note() || !look())
            return nullptr;
        const std::string &word = step->note()->word;
        const Rect where = m_scale.of(placeOf(*step));
        const float reach = step->ask().reach;
        // What was found by that word; where none is, what has its colours and is most like it.
        if (const FoundSubject *named =
                nearest(where, [&](const FoundSubject &each) { return each.word == word; })) {
            m_given.push_back(named);
            return stepFor(named->word, named->box, named->ovals, reach);
        }
        const auto seen = m_preset.seen.find(line);
        if (seen != m_preset.seen.end())
            if (auto found = findLike(seen->second, word, reach))
                return found;
        const FoundSubject *main = nearest(
            where, [](const FoundSubject &each) { return each.group == SubjectGroup::Main; });
        if (!main)
            return nullptr;
        m_given.push_back(main);
        return stepFor(main->word, main->box, main->ovals, reach);
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

    Rect grown(const Rect &box) const
    {
        const int across = box.width() / 6;
        const int down = box.height() / 6;
        return intersected({box.x0 - across, box.y0 - down, box.x1 + across, box.y1 + down},
                           m_levels.rectOf(0));
    }

    std::shared_ptr<const StepShape> findLike(const SeenPart &seen, const std::string &word,
                                              float reach) const
    {
        constexpr size_t kTries = 3;
        constexpr float kEnough = 0.7F;
        std::shared_ptr<const StepShape> best;
        float most = 0;
        std::vector<Rect> boxes = findAgain(m_levels, seen, kTries);
        if (!boxes.empty()) // found a little beside it
            boxes.insert(boxes.begin() + 1, grown(boxes.front()));
        for (const Rect &box : boxes) {
            auto shape = stepFor(word, box, {}, reach);
            Mask alone;
            alone.steps.push_back({0, Sign::Add, true, shape});
            const auto now = seenPart(m_levels, alone);
            const float like = now ? likeness(seen, *now) : 0;
            if (!best || like > most) {
                best = std::move(shape);
                most = like;
            }
            if (most > kEnough || m_run.stopped())
                break;
        }
        return best;
    }

    static std::shared_ptr<const StepShape> stepFor(const std::string &word, const Rect &box,
                                                    const std::vector<Rect> &ovals, float reach)
    {
        SubjectNote note;
        note.word = word;
        note.ovals = ovals;
        return std::make_shared<RegionStep>(RegionAsk{{}, box, reach}, MaskPlane(),
                                            std::move(note));
    }

    /// Of those that were not given away yet; null: none.
    template <class Is>
    const FoundSubject *nearest(const Rect &where, Is is) const
    {
        const FoundSubject *best = nullptr;
        double least = 0;
        for (const FoundSubject &each : m_found) {
            if (!is(each) || std::count(m_given.begin(), m_given.end(), &each) > 0)
                continue;
            if (const double away = difference(each.box, where); !best || away < least) {
                best = &each;
                least = away;
            }
        }
        return best;
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

    const Preset &m_preset;
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

Result<Take> withPresetOn(Take take, const Preset &preset, const PhotoLevels &levels,
                          bool placesAll, CarryReport &report, const Run &run)
{
    SubjectFinder finder(preset, levels, run);
    const Photo &photo = levels.photo();
    const PresetUse use{
        photo.width, photo.height, placesAll,
        [&](const std::string &line, const StepShape &like) { return finder.find(line, like); }};
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
