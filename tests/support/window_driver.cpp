#include "window_driver.h"

#include <QSignalSpy>

namespace buttonhole::test
{

namespace
{
constexpr int kWaitMs = 120000;

/// Waiting that ends by time fails the test: what it looks at next would be of something
/// unfinished.
template <class Done>
void waitFor(const Done &done, const char *what)
{
    if (!QTest::qWaitFor(done, kWaitMs))
        QTest::qFail(what, __FILE__, __LINE__);
}
} // namespace

WindowDriver::WindowDriver(const QString &folder, QSize size)
    : m_window(std::make_unique<app::MainWindow>(folder + QStringLiteral("/settings.ini"),
                                                 folder + QStringLiteral("/unsaved")))
{
    m_window->resize(size);
    m_window->show();
    m_window->activateWindow();
    waitFor([this] { return m_window->isActiveWindow(); }, "the window does not come up");
}

bool WindowDriver::open(const QString &path)
{
    QSignalSpy opened(&m_window->opening(), &app::Opening::opened);
    m_window->opening().openPath(path);
    if (opened.isEmpty() && !opened.wait(kWaitMs))
        return false;
    if (!opened.at(0).at(0).toBool())
        return false;
    settle();
    return true;
}

bool WindowDriver::save(const QString &path)
{
    QSignalSpy saved(&m_window->saving(), &app::Saving::saved);
    m_window->saving().saveTo(path);
    return (!saved.isEmpty() || saved.wait(kWaitMs)) && saved.at(0).at(0).toBool();
}

bool WindowDriver::exportTo(const QString &path, const ExportSettings &settings)
{
    QSignalSpy exported(&m_window->exporting(), &app::Exporting::exported);
    Delivery delivery;
    delivery.picture = settings;
    if (settings.longEdgePx > 0)
        delivery.size = {SizeRule::Kind::LongEdge, double(settings.longEdgePx)};
    m_window->exporting().exportTo(path, delivery);
    return (!exported.isEmpty() || exported.wait(kWaitMs)) && exported.at(0).at(0).toBool();
}

void WindowDriver::settle()
{
    canvas().repaint(); // asks for what is missing
    waitFor(
        [this] {
            canvas().update();
            return canvas().isSettled();
        },
        "the canvas does not settle");
    waitFor([this] { return m_window->jobs().isIdle(); }, "jobs do not end");
}

QPoint WindowDriver::at(double x, double y) const
{
    return m_window->canvas().transform().toWidget({x, y}).toPoint();
}

void WindowDriver::paint(const QList<QPointF> &photo, Qt::KeyboardModifiers modifiers)
{
    const auto position = [&](const QPointF &p) { return at(p.x(), p.y()); };
    QTest::mouseMove(&canvas(), position(photo.front()));
    QTest::mousePress(&canvas(), Qt::LeftButton, modifiers, position(photo.front()));
    for (const QPointF &p : photo) {
        QMouseEvent move(QEvent::MouseMove, QPointF(position(p)),
                         canvas().mapToGlobal(QPointF(position(p))), Qt::NoButton, Qt::LeftButton,
                         modifiers);
        QCoreApplication::sendEvent(&canvas(), &move);
    }
    QTest::mouseRelease(&canvas(), Qt::LeftButton, modifiers, position(photo.back()));
}

void WindowDriver::hover(double x, double y)
{
    QMouseEvent move(QEvent::MouseMove, QPointF(at(x, y)), canvas().mapToGlobal(QPointF(at(x, y))),
                     Qt::NoButton, Qt::NoButton, Qt::NoModifier);
    QCoreApplication::sendEvent(&canvas(), &move);
}

void WindowDriver::key(Qt::Key key, Qt::KeyboardModifiers modifiers)
{
    QTest::keyClick(&canvas(), key, modifiers);
}

QColor WindowDriver::colourAt(double x, double y)
{
    settle();
    return canvas().grab().toImage().pixelColor(at(x, y));
}

int colourfulness(const QColor &colour)
{
    return std::max({colour.red(), colour.green(), colour.blue()}) -
           std::min({colour.red(), colour.green(), colour.blue()});
}

} // namespace buttonhole::test
