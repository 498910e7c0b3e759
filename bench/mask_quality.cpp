// Plays scripted moves on the demo photos, as takes in JSON through the core the window uses, and
// compares the masks with the exact mattes: mask_quality [--demo FOLDER]. docs/quality.md keeps
// its table.
#include "document/take_json.h"
#include "mask/colour_window.h"
#include "mask/match_step.h"
#include "mask_score.h"

#include <nlohmann/json.hpp>
#include <opencv2/imgproc.hpp>

#include <chrono>
#include <cstdio>

using namespace buttonhole;
using namespace buttonhole::bench;

namespace
{

cv::Mat1f maskOf(const PhotoLevels &levels, const Take &take)
{
    const Rect all = levels.photo().rect();
    std::vector<uint16_t> values(all.area());
    parallelRows(all.y1, 64, [&](int y0, int y1) {
        keepMask(levels, take.keeps[0], 0, {0, y0, all.x1, y1},
                 values.data() + size_t(y0) * size_t(all.x1));
    });
    cv::Mat1f mask(all.y1, all.x1);
    for (size_t i = 0; i < values.size(); ++i)
        mask(int(i) / all.x1, int(i) % all.x1) = float(values[i]) / 65535;
    return mask;
}

/// One row: the take's only keep against a matte.
void play(const char *what, const PhotoLevels &levels, const Take &take, const cv::Mat1f &matte,
          const char *bar, double wanted, double Score::*which)
{
    // What is measured went through JSON as a file does.
    std::vector<std::string> notes;
    const auto read = takeFromText(takeToJson(take, nullptr).dump(), levels.photo().width,
                                   levels.photo().height, what, notes);
    if (!read)
        std::exit((std::fprintf(stderr, "%s\n", sentence(read.error()).c_str()), 1));
    const auto start = std::chrono::steady_clock::now();
    const cv::Mat1f mask = maskOf(levels, *read);
    const double ms =
        std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    const Score score = compare(mask, matte);
    std::printf("| %s | %.3f | %.3f | %.4f | %.3f | %.0f | %s | %s |\n", what, score.iou, score.f,
                score.error, score.bandError, ms, bar,
                wanted == 0              ? ""
                : score.*which >= wanted ? "yes"
                                         : "**no**");
    std::fflush(stdout);
}

Take withShape(std::shared_ptr<const StepShape> shape)
{
    Take take = makeTake();
    const uint64_t keep = take.keeps[0].id;
    return withNewStep(std::move(take), keep, Sign::Add, std::move(shape));
}

/// What the Colour window tool makes of a pick.
Take colourWindow(const ColourSpread &pick)
{
    ColourWindow window;
    window.range = rangeAround(pick);
    return withShape(std::make_shared<ColourWindowStep>(window));
}

/// The window with its sliders moved: 46 degrees about 85, little softness; strong colours; tones
/// from 67 to 90 %, about which shading is followed.
Take narrowed(const Take &take)
{
    ColourWindow window =
        static_cast<const ColourWindowStep &>(*take.keeps[0].steps[0].shape).window();
    window.range.hueDeg = 85;
    window.range.hueWidthDeg = 46;
    window.range.hueSoftDeg = 0;
    window.range.chroma = {0.135F, 0.5F, 0.007F};
    window.range.lightness = {0.67F, 0.905F, 0.08F};
    return withShape(std::make_shared<ColourWindowStep>(window));
}

Take match(const PhotoLevels &levels, const std::vector<PhotoPoint> &clicks, float reach,
           bool connected, const std::vector<PhotoPoint> &leftOut = {})
{
    Match out;
    out.reach = reach;
    out.isConnected = connected;
    for (const PhotoPoint &at : clicks)
        out.clicks.push_back({at, sampleColour(levels, at, 5)});
    for (const PhotoPoint &at : leftOut)
        out.clicks.push_back({at, sampleColour(levels, at, 5), true});
    return withShape(std::make_shared<MatchStep>(out));
}

/// Match steps on top: what the window missed, at so many clicks each of its own.
Take withMatches(Take take, const PhotoLevels &levels)
{
    struct Click {
        PhotoPoint at;
        float reach;
        bool isConnected;
    };
    for (const Click &click : {Click{{284, 726}, 0.06F, false}, Click{{310, 814}, 0.06F, true},
                               Click{{748, 692}, 0.02F, false}, Click{{308, 738}, 0.06F, true},
                               Click{{320, 1136}, 0.045F, true}}) {
        Match step;
        step.reach = click.reach;
        step.isConnected = click.isConnected;
        step.clicks = {{click.at, sampleColour(levels, click.at, 5)}};
        take = withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                           std::make_shared<MatchStep>(step));
    }
    return take;
}

Take cleaned(Take take, float specksPx, float holesPx)
{
    take.keeps[0].specksPx = specksPx;
    take.keeps[0].holesPx = holesPx;
    take.keeps[0].featherPx = 0.8F;
    return take;
}

} // namespace

int main()
{
    std::printf("| moves | IoU | F | error | error in the band | ms | bar | holds |\n"
                "| --- | --- | --- | --- | --- | --- | --- | --- |\n");
    const auto levelsOf = [](const char *name) {
        const auto levels = PhotoLevels::load(std::string(BUTTONHOLE_DEMO "/") + name);
        if (!levels)
            std::exit((std::fprintf(stderr, "%s\n", sentence(levels.error()).c_str()), 1));
        return *levels;
    };
    {
        const auto levels = levelsOf("washing-line.jpg");
        const cv::Mat1f matte = readMatte("washing-line.magenta-cloth.matte.png");
        play("washing-line, magenta cloth: Colour window, one click", *levels,
             colourWindow(spreadAt(*levels, {900, 640})), matte, "", 0, &Score::iou);
        play("washing-line, magenta cloth: Colour window, one drag across", *levels,
             colourWindow(measureSpread(*levels, {700, 420, 1120, 1180})), matte, "IoU >= 0.97",
             0.97, &Score::iou);
        play("washing-line, magenta cloth: Match, two clicks", *levels,
             match(*levels, {{900, 500}, {780, 1000}}, 0.15F, true), matte, "", 0, &Score::iou);
    }
    {
        const auto levels = levelsOf("button-jar.jpg");
        const cv::Mat1f matte = readMatte("button-jar.yellow-buttons.matte.png");
        play("button-jar, yellow buttons: Colour window, one click", *levels,
             colourWindow(spreadAt(*levels, {388, 1590})), matte, "", 0, &Score::f);
        const Take slid = narrowed(colourWindow(spreadAt(*levels, {388, 1590})));
        play("button-jar, yellow buttons: the same, its sliders moved", *levels, slid, matte, "", 0,
             &Score::f);
        const Take clean = cleaned(slid, 28, 48);
        play("button-jar, yellow buttons: the same, specks dropped and holes filled", *levels,
             clean, matte, "", 0, &Score::f);
        play("button-jar, yellow buttons: the same, and five clicks of Match", *levels,
             withMatches(clean, *levels), matte, "F >= 0.93", 0.93, &Score::f);
    }
    return 0;
}
