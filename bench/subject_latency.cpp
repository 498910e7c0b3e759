#include "window_timing.h"

namespace buttonhole::bench
{

namespace
{

/// The longest time in which the window did not take events.
class StallMeter
{
public:
    StallMeter()
    {
        QObject::connect(&m_timer, &QTimer::timeout, [this] {
            m_longest = std::max(m_longest, msSince(m_last));
            m_last = Clock::now();
        });
        m_timer.start(1);
    }
    double longest() const { return m_longest; }

private:
    QTimer m_timer;
    Clock::time_point m_last = Clock::now();
    double m_longest = 0;
};

void printTime(const char *what, double ms, double copy, double most)
{
    print({what, text("%.0f ms", ms), text("copy of the canvas %.2f ms", copy),
           text("%.0f", ms / copy), text("<= %.0f ms", most), ms <= most});
}

/// A place of some colour that no offer holds: offers show their outlines before they are clicked.
PhotoPoint placeBesideOffers(test::WindowDriver &driver)
{
    const PhotoLevels &levels = *driver.session().levels();
    const Photo &photo = levels.photo();
    for (int y = photo.height / 4; y < photo.height; y += 97)
        for (int x = photo.width / 5; x < photo.width; x += 131) {
            driver.hover(x, y);
            if (driver.window().toolbox().the<app::SubjectTool>().lit() < 0 &&
                readPixel(levels, x, y).chroma > 0.08)
                return {float(x) + 0.5F, float(y) + 0.5F};
        }
    return {};
}

/// A stroke beside the keep's edge and its undo, until all that is seen is exact and stitched.
void benchStroke(test::WindowDriver &driver, double copy, const std::string &where)
{
    const QSize size = driver.canvas().size();
    const auto at = [&](double x, double y) {
        const QPointF p =
            driver.canvas().transform().toPhoto({x * size.width(), y * size.height()});
        return PhotoPoint{float(p.x()), float(p.y())};
    };
    const auto isStitched = [&] { return driver.canvas().isSettled(); };
    driver.key(Qt::Key_1);
    driver.window().brush().setTip({200, 0.5F, 0.5F, 1, PressureSteers::Size});
    const PhotoPoint from = at(0.4, 0.4);
    const PhotoPoint to = at(0.5, 0.5);
    driver.paint({{double(from.x), double(from.y)}, {double(to.x), double(to.y)}});
    printTime(("stroke with soft edge and spill, to its stitch" + where).c_str(),
              msUntil(isStitched), copy, 1000);
    driver.settle();
    driver.session().undo();
    printTime(("undo of it" + where).c_str(), msUntil(isStitched), copy, 500);
    driver.settle();
}

/// What the keep's edge costs until all that is seen is exact.
/// @param on a place of the keep: 100 % is there
void benchEdge(test::WindowDriver &driver, double copy, const PhotoPoint &on)
{
    const auto timed = [&](const char *what, const std::function<void(Keep &)> &change) {
        const Take &take = *driver.session().take();
        driver.session().edit(QStringLiteral("bench"), withKeep(take, take.keeps[0].id, change));
        printTime(what, msUntil([&] { return driver.canvas().isSharp(); }), copy, 1000);
        driver.settle();
    };
    for (const double scale : {0.0, 1.0}) {
        driver.hover(double(on.x), double(on.y));
        zoom(driver, scale);
        const bool isFit = scale == 0;
        timed(isFit ? "soft edge of 12 px in view, fit" : "soft edge of 12 px in view, 100 %",
              [](Keep &k) { k.softEdgePx = 12; });
        timed(isFit ? "soft edge by sharpness in view, fit"
                    : "soft edge by sharpness in view, 100 %",
              [](Keep &k) { k.softEdgeFound = true; });
        timed(isFit ? "spill in view, fit" : "spill in view, 100 %", [](Keep &k) { k.spill = 1; });
        benchStroke(driver, copy, isFit ? ", fit" : ", 100 %");
        driver.session().edit(
            QStringLiteral("bench"),
            withKeep(*driver.session().take(), driver.session().take()->keeps[0].id, [](Keep &k) {
                k.softEdgePx = k.spill = 0;
                k.softEdgeFound = false;
            }));
        driver.settle();
    }
}

} // namespace

void benchSubjects(test::WindowDriver &driver, double copy)
{
    const Take before = *driver.session().take();
    zoom(driver, 0);
    auto &tool = driver.window().toolbox().the<app::SubjectTool>();
    StallMeter stalls;
    driver.key(Qt::Key_8);
    const auto isLooking = [&] { return tool.state() == app::SubjectTool::State::Looking; };
    const double main = msUntil([&] { return !tool.offers().isEmpty() || !isLooking(); });
    printTime("main subject, from the key", main, copy, 1500);
    printTime("photo looked over for subjects", main + msUntil([&] { return !isLooking(); }), copy,
              3000);
    driver.session().edit(QStringLiteral("bench"), makeTake());
    driver.settle();
    const auto hasMask = [&] { return !driver.session().take()->keeps[0].steps.empty(); };
    const PhotoPoint at = placeBesideOffers(driver);
    driver.paint({{double(at.x), double(at.y)}});
    const double coarse = msUntil(hasMask);
    printTime("subject from a click, coarse", coarse, copy, 400);
    const auto shape = [&] { return driver.session().take()->keeps[0].steps.front().shape; };
    const auto grown = shape();
    const double seen = coarse + msUntil([&] { return shape() != grown; });
    printTime("and as the network sees it first", seen, copy, 1200);
    printTime("and to the exact mask",
              seen + msUntil([&] { return !tool.isUnfinished() && driver.canvas().isSharp(); }),
              copy, 1000);
    printTime("longest stall of the window meanwhile", stalls.longest(), copy, 50);
    benchEdge(driver, copy, at);
    driver.key(Qt::Key_1);
    driver.session().edit(QStringLiteral("bench"), before);
    driver.settle();
}

} // namespace buttonhole::bench
