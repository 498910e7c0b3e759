// The real window, offscreen: from an event to the pixels it changes. Each figure stands beside a
// reference timed in the same run.
#include "make_photo.h"
#include "window_timing.h"

#include "document/set_param.h"
#include "io/file.h"
#include "io/jpeg.h"

#include <QApplication>
#include <QTemporaryDir>
#include <QWheelEvent>

#include <chrono>
#include <cmath>
#include <cstring>
#include <fstream>

namespace
{

using namespace buttonhole;
using bench::Clock;
using bench::median;
using bench::msSince;
using bench::msUntil;
using bench::PaintCounter;
using bench::print;
using bench::printTimes;
using bench::quantile;
using bench::text;
using bench::untilPainted;
using bench::zoom;

void sendMouse(QWidget &canvas, QEvent::Type type, const QPointF &at,
               Qt::MouseButton button = Qt::LeftButton,
               Qt::KeyboardModifiers modifiers = Qt::NoModifier)
{
    const bool move = type == QEvent::MouseMove;
    QMouseEvent event(type, at, canvas.mapToGlobal(at), move ? Qt::NoButton : button,
                      type == QEvent::MouseButtonRelease ? Qt::NoButton : button, modifiers);
    QCoreApplication::sendEvent(&canvas, &event);
}

QPointF onEight(const QWidget &canvas, double t)
{
    return {canvas.width() * (0.5 + 0.3 * std::sin(t)),
            canvas.height() * (0.5 + 0.3 * std::sin(2 * t))};
}

/// A figure of eight over the canvas in moves of about 12 px; the milliseconds of each.
std::vector<double> paintEight(test::WindowDriver &driver, int moves, double from = 0,
                               Qt::KeyboardModifiers modifiers = Qt::NoModifier)
{
    QWidget &canvas = driver.canvas();
    PaintCounter paints(canvas);
    const auto at = [&](int i) { return onEight(canvas, from + i * 24.0 / canvas.width()); };
    sendMouse(canvas, QEvent::MouseButtonPress, at(0), Qt::LeftButton, modifiers);
    QCoreApplication::processEvents();
    std::vector<double> out;
    for (int i = 1; i <= moves; ++i)
        out.push_back(untilPainted(paints, [&] { sendMouse(canvas, QEvent::MouseMove, at(i)); }));
    sendMouse(canvas, QEvent::MouseButtonRelease, at(moves));
    return out;
}

double canvasCopyMs(const QSize &size)
{
    const size_t bytes = size_t(size.width()) * size_t(size.height()) * 4;
    std::vector<char> from(bytes, 1);
    std::vector<char> to(bytes, 2);
    std::vector<double> times;
    for (int i = 0; i < 51; ++i) {
        const auto start = Clock::now();
        std::memcpy(to.data(), from.data(), bytes);
        from[size_t(i)] = to[bytes - 1 - size_t(i)];
        times.push_back(msSince(start));
    }
    return median(times);
}

void setTip(test::WindowDriver &driver, float sizePx)
{
    driver.window().brush().setTip({sizePx, 0.5F, 0.5F, 1, PressureSteers::Size});
}

void benchBrush(test::WindowDriver &driver, double copy)
{
    for (const float tipPx : {400.0F, 2000.0F})
        for (const double scale : {0.0, 1.0}) {
            setTip(driver, tipPx);
            zoom(driver, scale);
            const auto times = paintEight(driver, 500);
            driver.settle();
            const std::string what = "brush move to pixels, tip " + std::to_string(int(tipPx)) +
                                     " px soft, " + (scale > 0 ? "100 %" : "fit");
            printTimes(what.c_str(), times, copy, tipPx > 1000 ? 16 : 8, tipPx > 1000 ? 0 : 16);
        }
}

void benchSlider(test::WindowDriver &driver, double copy)
{
    PaintCounter paints(driver.canvas());
    for (const double scale : {0.0, 0.26, 1.0, 4.0}) {
        zoom(driver, scale);
        const uint64_t id = driver.session().take()->keeps[0].id;
        std::vector<double> times;
        for (int i = 0; i < 120; ++i)
            times.push_back(untilPainted(paints, [&] {
                driver.session().edit(
                    QStringLiteral("Strength"),
                    withKeep(*driver.session().take(), id,
                             [&](Keep &k) { k.strength = float(0.3 + 0.005 * i); }),
                    QStringLiteral("strength"));
            }));
        driver.session().endMerge();
        driver.settle();
        const std::string what = "slider (strength) to pixels, " +
                                 (scale > 0 ? text("%.0f %%", scale * 100) : std::string("fit"));
        printTimes(what.c_str(), times, copy, 16, 0);
    }
}

/// Sliders of Prepare, with its light set.
void benchLight(test::WindowDriver &driver, double copy)
{
    PaintCounter paints(driver.canvas());
    const Take before = *driver.session().take();
    const std::pair<const char *, const char *> numbers[] = {
        {"exposure", "prepare.light.exposureEv"},
        {"sharpness", "prepare.sharpness.amount"},
        {"noise", "prepare.noise.lightness"},
        {"angle", "straighten.angleDeg"}};
    for (const auto &[name, id] : numbers)
        for (const double scale : {0.0, 1.0}) {
            zoom(driver, scale);
            Take take = before;
            for (const char *each : {"prepare.light.contrast=0.2", "prepare.light.temperature=0.1",
                                     "prepare.light.saturation=0.2"})
                take = withParam(std::move(take), each).value();
            std::vector<double> times;
            for (int i = 0; i < 60; ++i)
                times.push_back(untilPainted(paints, [&] {
                    const auto changed =
                        withParam(take, std::string(id) + '=' + std::to_string((i + 1) / 61.0));
                    driver.session().edit(QStringLiteral("Light"), *changed,
                                          QStringLiteral("light"));
                }));
            driver.session().endMerge();
            const double exact = msUntil([&] { return driver.canvas().isSharp(); });
            driver.settle();
            const std::string what =
                std::string("slider of light (") + name + ") to pixels, " +
                (scale > 0 ? text("%.0f %%", scale * 100) : std::string("fit"));
            printTimes(what.c_str(), times, copy, 16, 0);
            print({what + ", then until all is exact", text("%.0f ms", exact), "", "", "", {}});
        }
    driver.session().edit(QStringLiteral("bench"), before);
    driver.settle();
}

/// What the Grey details' sliders and the drag on the picture do, with a mix that uses everything
/// else too.
void benchGrey(test::WindowDriver &driver, double copy)
{
    PaintCounter paints(driver.canvas());
    const Take before = *driver.session().take();
    const std::pair<const char *, void (*)(GreyMix &, float)> changes[] = {
        {"contrast", [](GreyMix &m, float x) { m.tone.contrast = 100 * x; }},
        {"a hue's grey", [](GreyMix &m, float x) { m.hue[0].value = 100 * x; }},
        {"local contrast", [](GreyMix &m, float x) { m.tone.local = 100 * x; }},
        {"toning", [](GreyMix &m, float x) { m.toning.shadowSaturation = 100 * x; }}};
    for (const auto &[name, change] : changes)
        for (const double scale : {0.0, 1.0}) {
            zoom(driver, scale);
            Take take = before;
            take.grey.hue = {{50, 40, 40}, {100, -60, 40}};
            take.grey.tone.contrast = 20;
            take.grey.tone.local = take.grey.tone.fine = 25;
            std::vector<double> times;
            for (int i = 0; i < 100; ++i)
                times.push_back(untilPainted(paints, [&] {
                    change(take.grey, float(i + 1) / 101);
                    driver.session().edit(QStringLiteral("Grey"), take, QStringLiteral("grey"));
                }));
            driver.session().endMerge();
            driver.settle();
            const std::string what = std::string("slider (") + name +
                                     ", full grey mix) to pixels, " + (scale > 0 ? "100 %" : "fit");
            printTimes(what.c_str(), times, copy, 16, 0);
        }
    zoom(driver, 0);
    driver.session().edit(QStringLiteral("Grey"), before);
    driver.session().select({app::TicketLine::Kind::Grey});
    const PhotoLevels &levels = *driver.session().levels();
    QPointF at;
    for (int y = levels.photo().height / 3; at.isNull(); ++y)
        for (int x = 0; x < levels.photo().width && at.isNull(); x += 7)
            if (readPixel(levels, x, y).chroma > 0.1)
                at = driver.canvas().transform().toWidget(QPointF(x, y));
    sendMouse(driver.canvas(), QEvent::MouseButtonPress, at);
    std::vector<double> times;
    for (int i = 0; i < 100; ++i)
        times.push_back(untilPainted(paints, [&] {
            sendMouse(driver.canvas(), QEvent::MouseMove, at - QPointF(0, 1 + i * 1.6));
        }));
    sendMouse(driver.canvas(), QEvent::MouseButtonRelease, at);
    printTimes("drag of a hue's grey on the picture to pixels, fit", times, copy, 16, 0);
    driver.session().edit(QStringLiteral("Grey"), before);
    driver.session().select({app::TicketLine::Kind::Keep, before.keeps[0].id});
    driver.settle();
}

void benchZoomAndPan(test::WindowDriver &driver, double copy)
{
    PaintCounter paints(driver.canvas());
    std::vector<double> sharp;
    int blanks = 0;
    const auto measure = [&](const auto &act) {
        const auto start = Clock::now();
        untilPainted(paints, act);
        blanks += driver.canvas().showsPicture() ? 0 : 1;
        msUntil([&] { return driver.canvas().isSharp(); });
        sharp.push_back(msSince(start));
    };
    zoom(driver, 0);
    for (int round = 0; round < 6; ++round) {
        const QPointF at = onEight(driver.canvas(), round);
        for (const int steps : {4, 4, 2, -3, -4, -3})
            measure([&] {
                QWheelEvent event(at, driver.canvas().mapToGlobal(at), {}, {0, 120 * steps},
                                  Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
                QCoreApplication::sendEvent(&driver.canvas(), &event);
            });
        zoom(driver, 1);
        sendMouse(driver.canvas(), QEvent::MouseButtonPress, {300, 300}, Qt::MiddleButton);
        for (int i = 1; i <= 8; ++i)
            measure([&] {
                sendMouse(driver.canvas(), QEvent::MouseMove, {300.0 + 60 * i, 300.0 - 30 * i},
                          Qt::MiddleButton);
            });
        sendMouse(driver.canvas(), QEvent::MouseButtonRelease, {780, 60}, Qt::MiddleButton);
        zoom(driver, 0);
    }
    printTimes("zoom or pan to sharp pixels", sharp, copy, 100, 100);
    print({"frames without a picture while zooming and panning", std::to_string(blanks), "", "",
           "0", blanks == 0});
}

void benchOpen(const std::string &photo, const std::string &size, bool hasBars)
{
    std::vector<double> decode;
    std::vector<double> first;
    std::vector<double> ready;
    for (int i = 0; i < 5; ++i) {
        const auto bytes = readFile(photo).value();
        auto start = Clock::now();
        (void)decodeJpeg(bytes, photo, {}).value();
        decode.push_back(msSince(start));
        QTemporaryDir settings;
        test::WindowDriver driver(settings.path());
        driver.settle();
        start = Clock::now();
        driver.window().opening().openPath(QString::fromStdString(photo));
        bench::msUntil([&] { return driver.canvas().showsPicture(); });
        QCoreApplication::processEvents();
        first.push_back(msSince(start));
        driver.settle();
        ready.push_back(msSince(start));
    }
    const auto line = [&](const char *what, const std::vector<double> &times, double most) {
        std::vector<double> ratios;
        for (size_t i = 0; i < times.size(); ++i)
            ratios.push_back(times[i] / decode[i]);
        print({size + ", " + what, text("%.0f ms", median(times)),
               text("decode alone %.0f ms", median(decode)), text("%.2f", median(ratios)),
               hasBars ? text("<= %.1f", most) : "", median(ratios) <= most});
    };
    line("open to the first picture", first, 1.2);
    line("open to fully ready", ready, 2.5);
}

/// A line of /proc/self/status in MB, e.g. "VmRSS:".
double statusMb(const char *name)
{
    std::ifstream in("/proc/self/status");
    std::string word;
    while (in >> word)
        if (word == name) {
            double kb = 0;
            in >> kb;
            return kb / 1024;
        }
    return 0;
}

void benchMemory(test::WindowDriver &driver)
{
    zoom(driver, 0);
    setTip(driver, 400);
    for (int i = 0; i < 200; ++i) {
        (void)paintEight(driver, 8, i * 0.31);
        if (i % 10 == 9)
            driver.settle();
    }
    driver.settle();
    print({"window's peak memory, 24 MP, all of the above and 200 strokes with undo",
           text("%.0f MB", statusMb("VmHWM:")),
           text("the photo's pixels %.0f MB", double(driver.session().levels()->bytes()) / 1e6), "",
           "<= 800 MB", statusMb("VmHWM:") <= 800});
}

[[noreturn]] void giveUp(const char *why)
{
    std::fprintf(stderr, "soak ended: %s\n", why);
    std::exit(1);
}

/// Painting, zooming, undo, redo and saving for `minutes`; then the work is opened anew.
void soak(double minutes)
{
    QTemporaryDir folder;
    test::WindowDriver driver(folder.path());
    const QString photo =
        QString::fromStdString(bench::makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", 24));
    const QString work = folder.filePath(QStringLiteral("work.buttonhole"));
    if (!driver.open(photo))
        giveUp("the photo could not be opened");
    const auto start = Clock::now();
    std::vector<double> memory;
    int strokes = 0;
    double longestSave = 0;
    for (int round = 0; msSince(start) < minutes * 60e3; ++round) {
        zoom(driver, round % 3 == 0 ? 0 : round % 3 == 1 ? 1 : 0.4);
        for (int i = 0; i < 12; ++i, ++strokes) {
            setTip(driver, float(40 + 97 * ((round + i) % 9)));
            // Every fifth takes back; now and then a step of its own.
            const bool takesBack = strokes % 5 == 4;
            driver.window().toolbox().setSign(strokes % 200 < 20 ? Sign::Subtract : Sign::Add);
            (void)paintEight(driver, 10, strokes * 0.37,
                             takesBack ? Qt::ControlModifier : Qt::NoModifier);
        }
        for (int i = 0; i < 7; ++i)
            driver.session().undo();
        for (int i = 0; i < 5; ++i)
            driver.session().redo();
        if (round % 4 == 3) {
            const auto saving = Clock::now();
            if (!driver.save(work))
                giveUp(text("the work could not be saved after %.0f ms", msSince(saving)).c_str());
            longestSave = std::max(longestSave, msSince(saving));
        }
        driver.settle();
        memory.push_back(statusMb("VmRSS:"));
    }
    if (!driver.save(work))
        giveUp("the work could not be saved");
    QTemporaryDir other;
    test::WindowDriver fresh(other.path());
    const bool opened = fresh.open(work);
    const auto pictureOf = [](test::WindowDriver &d) {
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        QTemporaryDir out;
        const QString file = out.filePath(QStringLiteral("p.png"));
        if (!d.exportTo(file, settings))
            giveUp("a picture could not be exported");
        return QImage(file);
    };
    if (!opened)
        giveUp("the work could not be opened anew");
    const QImage before = pictureOf(driver);
    const QImage after = pictureOf(fresh);
    int differing = 0;
    for (int y = 0; y < before.height() && before.size() == after.size(); ++y)
        for (int x = 0; x < before.width(); ++x)
            differing += before.pixel(x, y) != after.pixel(x, y) ? 1 : 0;
    const bool same = !before.isNull() && before.size() == after.size() && differing == 0;
    const size_t third = memory.size() / 3;
    const double early =
        median({memory.begin() + ptrdiff_t(third), memory.begin() + ptrdiff_t(2 * third)});
    const double late = median({memory.begin() + ptrdiff_t(2 * third), memory.end()});
    print({text("%.0f minutes of painting, zooming, undo, redo, save: ", minutes) +
               std::to_string(strokes) + " strokes, memory in the last third",
           text("%.0f MB", late), text("in the middle third %.0f MB", early),
           text("%.2f", late / early), "<= 1.15, <= 800 MB", late <= 1.15 * early && late <= 800});
    print({"its longest save", text("%.0f ms", longestSave), "", "", "", {}});
    print({"the same picture after opening the work anew",
           same ? "equal" : std::to_string(differing) + " pixels differ", "", "", "equal", same});
}

} // namespace

int main(int argc, char **argv)
{
    QApplication application(argc, argv);
    const QStringList words = application.arguments();
    if (words.size() > 2 && words[1] == QStringLiteral("--soak")) {
        soak(words[2].toDouble());
        return 0;
    }
    const bool all = words.size() < 2;
    const auto asked = [&](const char *name) { return all || words.contains(QLatin1String(name)); };
    if (asked("open"))
        for (const int mp : {6, 12, 24, 60, 100})
            benchOpen(bench::makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", mp),
                      std::to_string(mp) + " MP", mp == 24);
    QTemporaryDir settings;
    test::WindowDriver driver(settings.path(), {1548, 860}); // the canvas has 1000 x 700
    if (!driver.open(
            QString::fromStdString(bench::makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", 24))))
        return 1;
    std::fprintf(stderr, "canvas %d x %d\n", driver.canvas().width(), driver.canvas().height());
    const double copy = canvasCopyMs(driver.canvas().size());
    if (asked("brush"))
        benchBrush(driver, copy);
    if (asked("slider"))
        benchSlider(driver, copy);
    if (asked("light"))
        benchLight(driver, copy);
    if (asked("grey"))
        benchGrey(driver, copy);
    if (asked("masks"))
        bench::benchMasks(driver, copy);
    if (asked("subjects"))
        bench::benchSubjects(driver, copy);
    if (asked("tones"))
        bench::benchTones(driver, copy);
    if (asked("sheet"))
        bench::benchSheet(driver, copy);
    if (asked("zoom"))
        benchZoomAndPan(driver, copy);
    if (asked("memory"))
        benchMemory(driver);
    return 0;
}
