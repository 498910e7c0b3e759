#pragma once

#include "samples.h"
#include "window/main_window.h"

#include <QTest>

namespace buttonhole::test
{

/// Plays a user at the real window: opens photos, paints with mouse events, waits for pixels.
class WindowDriver
{
public:
    /// @param folder for settings; must be empty
    explicit WindowDriver(const QString &folder, QSize size = {1280, 800});

    app::MainWindow &window() { return *m_window; }
    app::Canvas &canvas() { return m_window->canvas(); }
    app::Session &session() { return m_window->session(); }

    /// Opens and waits; false if it was refused.
    bool open(const QString &path);
    bool save(const QString &path);
    bool exportTo(const QString &path, const ExportSettings &settings = {});
    /// Waits until all that is seen is exact.
    void settle();
    /// Widget position of a photo position.
    QPoint at(double x, double y) const;
    /// A stroke through photo positions with the left button.
    void paint(const QList<QPointF> &photo, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    void hover(double x, double y);
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    /// What the canvas shows at a photo position.
    QColor colourAt(double x, double y);

private:
    std::unique_ptr<app::MainWindow> m_window;
};

/// Difference of the greatest and least channel: 0 for greys.
int colourfulness(const QColor &colour);

} // namespace buttonhole::test
