// Local tones, and the sheet of a job: from an event to the pixels.
#include "make_photo.h"
#include "window_timing.h"

#include "document/set_param.h"
#include "document/tone_starts.h"
#include "job/photo_job.h"
#include "sheet/sheet.h"

#include <QListView>
#include <QScrollBar>
#include <QTemporaryDir>

#include <filesystem>
#include <fstream>

namespace buttonhole::bench
{

namespace
{

/// Four tones everywhere, the second and third with texture.
Take withFourTones(Take take, const PhotoLevels &levels)
{
    for (const char *start : {"everything", "bite", "bite", "everything"})
        take = withToneStart(std::move(take), levels, start, nullptr, nullptr).value();
    take.tones[1].name = "Bite one";
    return take;
}

size_t residentMb()
{
    std::ifstream file("/proc/self/statm");
    size_t all = 0;
    size_t resident = 0;
    file >> all >> resident;
    return resident * 4096 / 1000000;
}

} // namespace

void benchTones(test::WindowDriver &driver, double copy)
{
    PaintCounter paints(driver.canvas());
    const Take before = *driver.session().take();
    const Take four = withFourTones(before, *driver.session().levels());
    const std::pair<const char *, size_t> tones[] = {{"the last", 3},
                                                     {"the first, below textures", 0}};
    for (const auto &[name, index] : tones)
        for (const double scale : {0.0, 1.0}) {
            zoom(driver, scale);
            driver.session().edit(QStringLiteral("bench"), four);
            driver.settle();
            const std::string id = "tone:" + four.tones[index].name + ".light.exposureEv=";
            std::vector<double> times;
            for (int i = 0; i < 60; ++i)
                times.push_back(untilPainted(paints, [&] {
                    auto changed = withParam(four, id + std::to_string((i + 1) / 61.0));
                    driver.session().edit(QStringLiteral("Light"), std::move(*changed),
                                          QStringLiteral("light"));
                }));
            driver.session().endMerge();
            const double exact = msUntil([&] { return driver.canvas().isSharp(); });
            const std::string what = std::string("slider (exposure) of ") + name +
                                     " of four tones to pixels, " + (scale > 0 ? "100 %" : "fit");
            printTimes(what.c_str(), times, copy, 16, 0);
            print({what + ", then until all is exact", text("%.0f ms", exact), "", "", "", {}});
        }
    driver.session().edit(QStringLiteral("bench"), before);
    driver.settle();
}

void benchSheet(test::WindowDriver &driver, double copy)
{
    namespace fs = std::filesystem;
    constexpr int kPhotos = 1000;
    QTemporaryDir folder;
    qputenv("XDG_CACHE_HOME", folder.path().toUtf8() + "/cache"); // no thumbnails as yet
    const fs::path photos = fs::path(folder.path().toStdString()) / "photos";
    fs::create_directories(photos);
    const int megapixels[] = {2, 6, 12, 24};
    for (int i = 0; i < kPhotos; ++i)
        fs::copy_file(makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", megapixels[i % 4]),
                      photos / ("spool-" + std::to_string(i) + ".jpg"));
    auto *sheet = driver.window().findChild<app::Sheet *>();
    auto *view = sheet->findChild<QListView *>();
    PaintCounter paints(*view->viewport());
    const auto begun = Clock::now();
    sheet->model().setJob(*jobOfFolder(photos.string()));
    driver.window().actions()["sheet"]->setChecked(true);
    const double usable = msUntil([&] { return paints.count > 0; });
    print({"1,000 photos: the sheet is there", text("%.0f ms", usable), "", "", "<= 1 s",
           usable <= 1000});
    const auto scrolled = [&] {
        std::vector<double> times;
        QScrollBar *bar = view->verticalScrollBar();
        for (int i = 0; i < 300; ++i)
            times.push_back(untilPainted(paints, [&] {
                bar->setValue(bar->value() < bar->maximum() - 60 ? bar->value() + 60 : 0);
            }));
        return times;
    };
    printTimes("1,000 photos: scrolling while pictures come", scrolled(), copy, 16, 0);
    msUntil([&] { return sheet->model().pending() == 0; });
    const double all = msSince(begun);
    print({"1,000 photos: all pictures", text("%.0f ms", all), "", "", "<= 60 s", all <= 60000});
    printTimes("1,000 photos: scrolling", scrolled(), copy, 16, 0);
    const size_t memory = residentMb();
    print({"1,000 photos: memory, with a photo of 24 MP open",
           text("%.0f MB", double(memory)),
           "",
           "",
           "",
           {}});
    driver.window().actions()["sheet"]->setChecked(false);
}

} // namespace buttonhole::bench
