#include "window_timing.h"

#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/outline_step.h"
#include "mask/region_step.h"
#include "mask/tone_window.h"

namespace buttonhole::bench
{

namespace
{

using Shape = std::shared_ptr<const StepShape>;

Take withOneKeep(const std::vector<Shape> &shapes)
{
    Take take = makeTake();
    const uint64_t keep = take.keeps[0].id;
    for (size_t i = 0; i < shapes.size(); ++i)
        take =
            withNewStep(std::move(take), keep, i % 3 == 2 ? Sign::Subtract : Sign::Add, shapes[i]);
    return take;
}

/// A place of strong colour, so that windows and matches have something to find.
PhotoPoint colourfulPlace(const PhotoLevels &levels)
{
    const Photo &photo = levels.photo();
    for (int y = photo.height / 3; y < photo.height; ++y)
        for (int x = photo.width / 4; x < photo.width; x += 7)
            if (readPixel(levels, x, y).chroma > 0.12)
                return {float(x) + 0.5F, float(y) + 0.5F};
    return {};
}

Shape windowAt(const PhotoLevels &levels, const PhotoPoint &at, float turnDeg)
{
    ColourWindow window{rangeAround(spreadAt(levels, at)), true, {}, {at}, false};
    window.range.hueDeg = std::fmod(window.range.hueDeg + turnDeg, 360.0F);
    return std::make_shared<ColourWindowStep>(window);
}

Shape matchAt(const PhotoLevels &levels, const PhotoPoint &at, float reach)
{
    Match match;
    match.reach = reach;
    match.clicks = {{at, sampleColour(levels, at, 5)}};
    return std::make_shared<MatchStep>(match);
}

/// Ten steps of seven kinds.
std::vector<Shape> mixedSteps(const PhotoLevels &levels, const PhotoPoint &at)
{
    const auto w = float(levels.photo().width);
    const auto h = float(levels.photo().height);
    const RegionAsk ask{{{{at}, 12, false}}, {}, 0};
    auto region = RegionSolver().solve(levels, ask);
    const Outline square{
        {{w / 4, h / 4}, {}, {}}, {{w / 2, h / 5}, {}, {w / 8, 0}}, {{w / 2, h / 2}, {}, {}}};
    Stroke stroke;
    stroke.tip = {w / 8, 0.6F, 0.9F, 1, PressureSteers::Nothing};
    for (int i = 0; i <= 40; ++i)
        stroke.points.push_back({w * (0.3F + 0.01F * float(i)), h * 0.5F});
    BrushStep::Strokes strokes{std::make_shared<const Stroke>(stroke)};
    BrushPlanes planes(levels.photo().width, levels.photo().height);
    replayStrokes(strokes, planes);
    const Shape brush = std::make_shared<BrushStep>(strokes, planes);
    Fade fade;
    fade.from = {w * 0.2F, h * 0.2F};
    fade.to = {w * 0.8F, h * 0.7F};
    return {windowAt(levels, at, 0),
            brush,
            std::make_shared<ToneWindowStep>(SoftRange{0.8F, 1, 0.05F}),
            matchAt(levels, at, 0.1F),
            std::make_shared<RegionStep>(ask, region ? std::move(*region) : MaskPlane()),
            std::make_shared<FadeStep>(fade),
            std::make_shared<OutlineStep>(std::vector<Outline>{square}),
            windowAt(levels, at, 120),
            brush,
            matchAt(levels, {at.x + 40, at.y}, 0.05F)};
}

/// Changes the work as a slider does and waits for the next picture, or for the exact one.
class Drag
{
public:
    explicit Drag(test::WindowDriver &driver) : m_driver(driver), m_paints(driver.canvas()) {}

    std::vector<double> time(int moves, bool toExact, const std::function<Take(float)> &takeAt)
    {
        std::vector<double> times;
        for (int i = 0; i < moves; ++i) {
            const Take take = takeAt(float(i + 1) / float(moves));
            const auto start = Clock::now();
            untilPainted(m_paints, [&] {
                m_driver.session().edit(QStringLiteral("bench"), take, QStringLiteral("bench"));
            });
            if (toExact)
                msUntil([&] { return m_driver.canvas().isSharp(); });
            times.push_back(msSince(start));
        }
        m_driver.session().endMerge();
        m_driver.settle();
        return times;
    }

private:
    test::WindowDriver &m_driver;
    PaintCounter m_paints;
};

} // namespace

void benchMasks(test::WindowDriver &driver, double copy)
{
    const Take before = *driver.session().take();
    const PhotoLevels &levels = *driver.session().levels();
    const PhotoPoint at = colourfulPlace(levels);
    Drag drag(driver);
    for (const double scale : {0.0, 1.0}) {
        zoom(driver, scale);
        const std::string where = scale > 0 ? ", 100 %" : ", fit";
        printTimes(("Colour window's hue to pixels" + where).c_str(),
                   drag.time(80, false,
                             [&](float t) { return withOneKeep({windowAt(levels, at, 40 * t)}); }),
                   copy, 16, 0);
        printTimes(("Match, connected, its reach to pixels" + where).c_str(),
                   drag.time(60, false,
                             [&](float t) {
                                 return withOneKeep({matchAt(levels, at, 0.05F + 0.1F * t)});
                             }),
                   copy, 16, 0);
        printTimes(("Match, connected, to the exact picture" + where).c_str(),
                   drag.time(20, true,
                             [&](float t) {
                                 return withOneKeep({matchAt(levels, at, 0.05F + 0.1F * t)});
                             }),
                   copy, 150, 0);
    }
    zoom(driver, 0);
    const auto base = mixedSteps(levels, at);
    for (const float px : {6.0F, 250.0F})
        for (const bool grows : {false, true}) {
            const Take take = withOneKeep({base[1], base[6]});
            printTimes(((grows ? "growing by " : "feathering by ") + std::to_string(int(px)) +
                        " px, to pixels, fit")
                           .c_str(),
                       drag.time(80, false,
                                 [&](float t) {
                                     return withKeep(take, take.keeps[0].id, [&](Keep &k) {
                                         (grows ? k.growPx : k.featherPx) = px * (1 + 0.1F * t);
                                     });
                                 }),
                       copy, 16, 0);
        }
    printTimes("first of ten mixed steps changed, to the exact picture, fit",
               drag.time(40, true,
                         [&](float t) {
                             auto steps = base;
                             steps[0] = windowAt(levels, at, 30 * t);
                             return withOneKeep(steps);
                         }),
               copy, 150, 0);
    driver.session().edit(QStringLiteral("bench"), before);
    driver.settle();
}

} // namespace buttonhole::bench
