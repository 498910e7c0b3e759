// The core's hot paths in memory (Google Benchmark), each beside a copy of the bytes it reads and
// writes.
#include "make_photo.h"
#include "table.h"

#include "mask/brush_step.h"
#include "mask/keep.h"
#include "mask/region_step.h"
#include "mask/stroke.h"
#include "raster/parallel_tiles.h"
#include "render/render.h"
#include "segment/region_solver.h"
#include "subject/found_subjects.h"
#include "subject/subject_solver.h"

#include <benchmark/benchmark.h>

#include <cstring>
#include <map>

namespace
{

using namespace buttonhole;

struct Sample {
    std::shared_ptr<const PhotoLevels> levels;
    Take take;
    std::vector<uint8_t> out;
};

Take softTake(int width, int height)
{
    Stroke stroke;
    stroke.tip = {float(width) / 6, 0.6F, 0.9F, 1, PressureSteers::Nothing};
    for (int i = 0; i <= 40; ++i)
        stroke.points.push_back({float(width) * (0.3F + 0.01F * float(i)), float(height) * 0.5F});
    BrushStep::Strokes strokes{std::make_shared<const Stroke>(stroke)};
    BrushPlanes planes(width, height);
    replayStrokes(strokes, planes);
    Take take = makeTake();
    return withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                       std::make_shared<BrushStep>(std::move(strokes), std::move(planes)));
}

Sample &sample(int megapixels)
{
    static std::map<int, Sample> samples;
    Sample &s = samples[megapixels];
    if (!s.levels) {
        samples.clear(); // one at a time: 100 megapixels are 300 MB
        Sample &fresh = samples[megapixels];
        auto photo = std::make_shared<Photo>();
        photo->pixels = bench::makePicture(BUTTONHOLE_DEMO "/spools.jpg", megapixels);
        const auto &image = std::get<Image<uint8_t>>(photo->pixels);
        photo->width = image.width();
        photo->height = image.height();
        fresh.levels = PhotoLevels::makeFlat(photo);
        fresh.take = softTake(image.width(), image.height());
        fresh.out.resize(image.bytes());
        return fresh;
    }
    return s;
}

void copy(benchmark::State &state)
{
    Sample &s = sample(int(state.range(0)));
    const auto &image = std::get<Image<uint8_t>>(s.levels->level(0));
    for (auto _ : state) {
        std::memcpy(s.out.data(), image.row(0), s.out.size());
        benchmark::ClobberMemory();
    }
}

void renderWith(benchmark::State &state, const GreyMix &mix)
{
    Sample &s = sample(int(state.range(0)));
    s.take.grey = mix;
    const OutputColour output(Profile::srgb());
    const PictureRect area = pictureOf(*s.levels, s.take).rect();
    for (auto _ : state) {
        (void)renderPicture(*s.levels, s.take, View::Result, 0, area, output,
                            {RenderTarget::Layout::Rgb8, s.out.data(), size_t(area.width()) * 3});
        benchmark::ClobberMemory();
    }
}

void render(benchmark::State &state)
{
    renderWith(state, {});
}

/// The hue curve alone: OKLab of every pixel.
void renderHues(benchmark::State &state)
{
    GreyMix mix;
    mix.hue = {{50, 40, 40}, {100, -60, 40}};
    renderWith(state, mix);
}

/// Everything a mix has, but for local contrast (its small picture is the pyramid's).
void renderFullMix(benchmark::State &state)
{
    GreyMix mix;
    mix.hue = {{50, 40, 40}, {100, -60, 40}};
    mix.glass = Glass::Orange;
    mix.tone.contrast = 20;
    mix.tone.shadows = 20;
    mix.toning = {60, 20, 80, 20, 0, false};
    renderWith(state, mix);
}

void pyramid(benchmark::State &state)
{
    Sample &s = sample(int(state.range(0)));
    const std::shared_ptr<const Photo> photo(s.levels, &s.levels->photo());
    for (auto _ : state)
        benchmark::DoNotOptimize(PhotoLevels::make(photo));
}

/// One dab of 400 px, soft, into a mask the size of the photo.
void dab(benchmark::State &state)
{
    Sample &s = sample(int(state.range(0)));
    const Photo &photo = s.levels->photo();
    BrushPlanes planes(photo.width, photo.height);
    Stroke stroke;
    stroke.tip = {400, 0.5F, 0.5F, 1, PressureSteers::Nothing};
    StrokePainter painter(planes, stroke);
    int i = 0;
    for (auto _ : state) {
        const float side = (i++ / 60) % 2 == 0 ? 1.0F : -1.0F;
        benchmark::DoNotOptimize(
            painter.addPoint({float(photo.width) * 0.5F + side * 20.0F * float(i % 60),
                              float(photo.height) * 0.5F}));
    }
}

/// Two cloths of 24 megapixels, together a quarter of the picture: what a region's tool waits for.
const PhotoLevels &cloths()
{
    static const auto levels =
        PhotoLevels::load(bench::makePhotoFile(BUTTONHOLE_DEMO "/washing-line.jpg", 24));
    return **levels;
}

void solveCloths(benchmark::State &state, size_t known)
{
    const auto px = float(cloths().photo().width) / 2400;
    RegionAsk ask{{{{{950 * px, 800 * px}}, 8, false}, {{{1650 * px, 750 * px}}, 8, false}}, {}, 0};
    const RegionAsk first{{ask.marks[0]}, {}, 0};
    for (auto _ : state) {
        RegionSolver solver;
        if (known > 0) {
            state.PauseTiming();
            benchmark::DoNotOptimize(solver.solve(cloths(), first));
            state.ResumeTiming();
        }
        benchmark::DoNotOptimize(solver.solve(cloths(), known > 0 ? ask : first));
    }
}

void regionClick(benchmark::State &state)
{
    solveCloths(state, 0);
}

void regionFurther(benchmark::State &state)
{
    solveCloths(state, 1);
}

/// What belongs under a held tip of 400 px: one look, and its second answer.
void holdLook(benchmark::State &state)
{
    const auto px = float(cloths().photo().width) / 2400;
    HeldStroke stroke(cloths(), 200, 0.5F);
    stroke.moveTo({1290 * px, 700 * px});
    for (auto _ : state) {
        benchmark::DoNotOptimize(stroke.look());
        benchmark::DoNotOptimize(stroke.settle());
    }
}

void lookOver(benchmark::State &state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(findSubjects(cloths()));
}

/// A loose box round a cloth, as coarsely as the tool shows it first.
void subjectBox(benchmark::State &state)
{
    const auto px = float(cloths().photo().width) / 2400;
    const Rect box{int(640 * px), int(380 * px), int(1330 * px), int(1300 * px)};
    constexpr int kDraftEdge = 1600;
    for (auto _ : state) {
        SubjectSolver solver;
        benchmark::DoNotOptimize(
            solver.solve(cloths(), {{}, box, 0}, {}, {}, cloths().levelWithin(kDraftEdge)));
    }
}

/// The whole photo's mask with a soft edge round a cloth, band 12 px; each time a little less, so
/// that nothing is known from the time before.
void softEdges(benchmark::State &state)
{
    const auto px = float(cloths().photo().width) / 2400;
    const RegionAsk ask{{{{{950 * px, 800 * px}}, 8, false}}, {}, 0};
    Keep keep;
    static float bandPx = 12;
    keep.steps = {
        {1, Sign::Add, true,
         std::make_shared<RegionStep>(ask, std::move(*RegionSolver().solve(cloths(), ask)))}};
    for (auto _ : state) {
        keep.softEdgePx = bandPx -= 1e-3F;
        parallelTiles(cloths().photo().rect(), [&](const Rect &tile) {
            std::vector<uint16_t> mask(tile.area());
            keepMask(cloths(), keep, 0, tile, mask.data());
            benchmark::DoNotOptimize(mask.data());
        });
    }
}

/// Collects times by name.
class Collector : public benchmark::BenchmarkReporter
{
public:
    std::map<std::string, double> ms;
    bool ReportContext(const Context &) override { return true; }
    void ReportRuns(const std::vector<Run> &runs) override
    {
        for (const Run &run : runs)
            if (run.aggregate_name == "median")
                ms[run.run_name.function_name + "/" + run.run_name.args] =
                    run.GetAdjustedRealTime();
    }
};

void printTable(const std::map<std::string, double> &ms)
{
    const auto at = [&](const char *name, int mp) {
        return ms.at(std::string(name) + "/" + std::to_string(mp));
    };
    const auto isMeasured = [&](const char *name, int mp) { // or left out by --benchmark_filter
        return ms.count(std::string(name) + "/" + std::to_string(mp)) > 0;
    };
    for (const int mp : {6, 12, 24, 60, 100}) {
        if (!isMeasured("copy", mp))
            continue;
        const double copying = at("copy", mp);
        const std::string size = std::to_string(mp) + " MP";
        const auto line = [&](const char *what, const char *name, const char *bar, double most) {
            if (!isMeasured(name, mp))
                return;
            const double ratio = at(name, mp) / copying;
            bench::print({size + ", " + what, bench::text("%.1f ms", at(name, mp)),
                          bench::text("copy of the same bytes %.1f ms", copying),
                          bench::text("%.1f", ratio), bar, ratio <= most});
        };
        line("whole render in memory, grey and one soft keep", "render", mp == 24 ? "<= 8" : "", 8);
        if (mp == 24) {
            line("whole render in memory, hue curve", "renderHues", "", 0);
            line("whole render in memory, glass, hue curve, tone and toning", "renderFullMix", "",
                 0);
        }
        const auto answer = [&](const char *what, const char *name, const char *bar, double most) {
            if (!isMeasured(name, mp))
                return;
            bench::print({size + ", " + what, bench::text("%.0f ms", at(name, mp)),
                          bench::text("copy of the same bytes %.1f ms", copying),
                          bench::text("%.0f", at(name, mp) / copying), bar, at(name, mp) <= most});
        };
        if (mp == 24) {
            answer("region from a click, to exact", "regionClick", "<= 300 ms", 300);
            answer("region from one mark more", "regionFurther", "<= 300 ms", 300);
            answer("photo looked over for subjects", "lookOver", "<= 1500 ms", 1500);
            answer("subject from a box, coarse", "subjectBox", "<= 400 ms", 400);
            answer("soft edge of the whole photo, band 12 px", "softEdges", "<= 4000 ms", 4000);
            answer("look of a held tip of 400 px, both answers", "holdLook", "", 0);
        }
        line("pyramid of a photo", "pyramid", "", 0);
        if (!isMeasured("dab", 6) || !isMeasured("dab", mp))
            continue;
        bench::print({size + ", dab of 400 px into the mask", bench::text("%.2f ms", at("dab", mp)),
                      bench::text("at 6 MP %.2f ms", at("dab", 6)),
                      bench::text("%.1f", at("dab", mp) / at("dab", 6)), "flat",
                      at("dab", mp) < 2 * at("dab", 6)});
    }
}

} // namespace

int main(int argc, char **argv)
{
    for (const int mp : {6, 12, 24, 60, 100}) {
        const auto add = [&](const char *name, void (*run)(benchmark::State &)) {
            benchmark::RegisterBenchmark(name, run)
                ->Arg(mp)
                ->Unit(benchmark::kMillisecond)
                ->UseRealTime()
                ->MinTime(0.2)
                ->Repetitions(5)
                ->ReportAggregatesOnly();
        };
        add("copy", copy);
        add("render", render);
        if (mp == 24) {
            add("renderHues", renderHues);
            add("renderFullMix", renderFullMix);
            add("regionClick", regionClick);
            add("regionFurther", regionFurther);
            add("lookOver", lookOver);
            add("subjectBox", subjectBox);
            add("softEdges", softEdges);
            add("holdLook", holdLook);
        }
        add("pyramid", pyramid);
        add("dab", dab);
    }
    benchmark::Initialize(&argc, argv);
    Collector collector;
    benchmark::RunSpecifiedBenchmarks(&collector);
    printTable(collector.ms);
    return 0;
}
