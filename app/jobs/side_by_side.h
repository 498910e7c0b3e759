#pragma once

#include <QThreadPool>

#include <functional>

namespace buttonhole::app
{

/// Loops whose bodies paint. QPainter leaves data with the thread it runs on that only Qt's own
/// threads clear away in time, oneTBB's do not: the core's parallelFor() is not for it.
class SideBySide
{
public:
    /// Calls the body with 0 to count - 1, on this thread and on free ones, and returns when all
    /// are done. Waits for no thread that has not begun: with a busy machine this one does it all.
    /// What a body throws is thrown on, once all are done.
    void run(int count, const std::function<void(int)> &body);

private:
    QThreadPool m_pool;
};

} // namespace buttonhole::app
