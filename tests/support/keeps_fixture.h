#pragma once

#include "controls/slider.h"
#include "ticket/ticket.h"
#include "window_driver.h"

#include <QDir>
#include <QObject>
#include <QTemporaryDir>

namespace buttonhole::test
{

/// The window with the washing line open, and hands for it.
class KeepsFixture : public QObject
{
protected:
    QTemporaryDir m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    void openWashingLine()
    {
        QDir(m_folder.path()).removeRecursively();
        QDir().mkpath(m_folder.path());
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(demo("washing-line.jpg")));
        m_driver->settle();
    }
    const Take &take() const { return *m_driver->session().take(); }
    const Step &step() const { return *m_driver->session().step(); }
    void click(double x, double y, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        QTest::mouseMove(&m_driver->canvas(), m_driver->at(x, y));
        QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, modifiers, m_driver->at(x, y));
    }
    template <class Shape>
    const Shape &shape() const
    {
        const auto *found = dynamic_cast<const Shape *>(step().shape.get());
        if (!found)
            qFatal("another kind is selected");
        return *found;
    }
    app::Slider *slider(const char *name) const
    {
        for (auto *each : m_driver->window().findChildren<app::Slider *>())
            if (each->accessibleName() == QLatin1String(name) && each->isVisible())
                return each;
        qFatal("no slider %s", name);
    }
    app::TicketRow *row(const app::TicketLine &line) const
    {
        for (app::TicketRow *each : m_driver->window().ticket().rows())
            if (each->content().line == line)
                return each;
        return nullptr;
    }
    /// How much colour is at a place: 0 for grey.
    int colour(double x, double y)
    {
        m_driver->settle();
        return colourfulness(m_driver->colourAt(x, y));
    }
    app::TicketLine stepLine(size_t keep, size_t index) const
    {
        return {app::TicketLine::Kind::Step, take().keeps[keep].id,
                take().keeps[keep].steps[index].id};
    }
    app::TicketLine keepLine(size_t keep) const
    {
        return {app::TicketLine::Kind::Keep, take().keeps[keep].id};
    }
    /// The middle of the magenta cloth, by its matte.
    static QPointF clothPlace()
    {
        const QImage matte(demo("washing-line.magenta-cloth.matte.png"));
        double x = 0;
        double y = 0;
        double n = 0;
        for (int row = 0; row < matte.height(); row += 4)
            for (int column = 0; column < matte.width(); column += 4)
                if (qGray(matte.pixel(column, row)) > 200) {
                    x += column;
                    y += row;
                    ++n;
                }
        return {x / n, y / n};
    }
};

} // namespace buttonhole::test
