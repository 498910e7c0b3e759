// The brush in the real window, offscreen: from a mouse move to the painted canvas, at fit and at
// 100 %. Each figure stands beside one copy of the canvas's bytes, timed in the same run.
#include "make_photo.h"
#include "window_driver.h"

#include <QApplication>
#include <QTemporaryDir>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstring>

namespace
{

using namespace buttonhole;
using Clock = std::chrono::steady_clock;

double msSince(Clock::time_point start)
{
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

/// Counts the paints of the canvas.
class PaintCounter : public QObject
{
public:
    int count = 0;
    bool eventFilter(QObject *, QEvent *event) override
    {
        count += event->type() == QEvent::Paint ? 1 : 0;
        return false;
    }
};

void sendMouse(QWidget &canvas, QEvent::Type type, const QPointF &at)
{
    const bool move = type == QEvent::MouseMove;
    QMouseEvent event(type, at, canvas.mapToGlobal(at), move ? Qt::NoButton : Qt::LeftButton,
                      type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton,
                      Qt::NoModifier);
    QCoreApplication::sendEvent(&canvas, &event);
}

/// A figure of eight over the canvas, `moves` mouse moves of about 12 px; the milliseconds of each.
std::vector<double> paintEight(test::WindowDriver &driver, int moves)
{
    QWidget &canvas = driver.canvas();
    PaintCounter paints;
    canvas.installEventFilter(&paints);
    const auto at = [&](int i) {
        const double t = i * 12.0 / (0.3 * canvas.width());
        return QPointF(canvas.width() * (0.5 + 0.3 * std::sin(t)),
                       canvas.height() * (0.5 + 0.3 * std::sin(2 * t)));
    };
    sendMouse(canvas, QEvent::MouseButtonPress, at(0));
    QCoreApplication::processEvents();
    std::vector<double> out;
    for (int i = 1; i <= moves; ++i) {
        const int before = paints.count;
        const auto start = Clock::now();
        sendMouse(canvas, QEvent::MouseMove, at(i));
        do
            QCoreApplication::processEvents();
        while (paints.count == before);
        out.push_back(msSince(start));
    }
    sendMouse(canvas, QEvent::MouseButtonRelease, at(moves));
    driver.settle();
    canvas.removeEventFilter(&paints);
    return out;
}

double copyMs(const QSize &size)
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
    std::nth_element(times.begin(), times.begin() + 25, times.end());
    return times[25];
}

void report(const char *title, std::vector<double> times, double copy)
{
    std::sort(times.begin(), times.end());
    const auto at = [&](double share) { return times[size_t(share * double(times.size() - 1))]; };
    std::printf("%-34s median %6.2f ms  90 %% %6.2f  99 %% %6.2f  most %6.2f  canvas copy %.2f ms  "
                "median/copy %.1f\n",
                title, at(0.5), at(0.9), at(0.99), times.back(), copy, at(0.5) / copy);
}

} // namespace

int main(int argc, char **argv)
{
    QApplication application(argc, argv);
    const int moves = argc > 1 ? std::atoi(argv[1]) : 600;
    QTemporaryDir settings;
    test::WindowDriver driver(settings.path());
    const std::string photo = bench::makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", 24);
    if (!driver.open(QString::fromStdString(photo)))
        return 1;
    const double copy = copyMs(driver.canvas().size());
    for (const float tipPx : {400.0F, 2000.0F}) {
        for (const bool fit : {true, false}) {
            driver.window().brush().setTip({tipPx, 0.5F, 0.5F, 1, PressureSteers::Size});
            if (fit)
                driver.canvas().fit();
            else
                driver.canvas().zoomTo(1);
            driver.settle();
            const QString title = QStringLiteral("24 MP, tip %1 px, soft, %2")
                                      .arg(int(tipPx))
                                      .arg(fit ? QStringLiteral("fit") : QStringLiteral("100 %"));
            report(qPrintable(title), paintEight(driver, moves), copy);
        }
    }
    return 0;
}
