#pragma once

#include "table.h"
#include "window_driver.h"

#include <QCoreApplication>
#include <QEvent>
#include <QTimer>

#include <chrono>

namespace buttonhole::bench
{

using Clock = std::chrono::steady_clock;

inline double msSince(Clock::time_point start)
{
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

/// Counts the paints of the canvas.
class PaintCounter : public QObject
{
public:
    explicit PaintCounter(QWidget &widget) { widget.installEventFilter(this); }
    int count = 0;
    bool eventFilter(QObject *, QEvent *event) override
    {
        count += event->type() == QEvent::Paint ? 1 : 0;
        return false;
    }
};

/// Milliseconds until the canvas has painted what `act` changed.
template <class Act>
double untilPainted(PaintCounter &paints, const Act &act)
{
    const int before = paints.count;
    const auto start = Clock::now();
    act();
    do
        QCoreApplication::processEvents();
    while (paints.count == before);
    return msSince(start);
}

/// Milliseconds until `done`. The window's thread sleeps meanwhile, as a user's does: to spin would
/// take a core from the jobs that are waited for.
template <class Done>
double msUntil(const Done &done)
{
    QTimer ticks;
    ticks.setTimerType(Qt::PreciseTimer);
    ticks.start(1);
    const auto start = Clock::now();
    while (!done())
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    return msSince(start);
}

inline void printTimes(const char *what, const std::vector<double> &times, double copy, double most,
                       double most99)
{
    const double middle = median(times);
    const double late = quantile(times, 0.99);
    print({what, text("%.1f ms", middle) + text(" (99 %%: %.1f)", late),
           text("copy of the canvas %.2f ms", copy), text("%.0f", middle / copy),
           text("<= %.0f ms", most) + (most99 > 0 ? text(" (99 %%: %.0f)", most99) : ""),
           middle <= most && (most99 <= 0 || late <= most99)});
}

inline void zoom(test::WindowDriver &driver, double scale)
{
    if (scale > 0)
        driver.canvas().zoomTo(scale);
    else
        driver.canvas().fit();
    driver.settle();
}

/// What masks cost while they are made and changed, prints its rows.
/// @param copy ms that copying the canvas takes
void benchMasks(test::WindowDriver &driver, double copy);

/// What subjects and their edges cost.
void benchSubjects(test::WindowDriver &driver, double copy);

/// Sliders of local tones with four of them; the sheet with 1,000 photos.
void benchTones(test::WindowDriver &driver, double copy);
void benchSheet(test::WindowDriver &driver, double copy);

} // namespace buttonhole::bench
