#pragma once

#include "window_driver.h"

#include <QObject>
#include <QTemporaryDir>
#include <QToolButton>

namespace buttonhole::test
{

/// The window, and hands for the pages of its Prepare line.
class PrepareFixture : public QObject
{
protected:
    QTemporaryDir m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    template <class T>
    T &child(const char *name)
    {
        T *found = m_driver->window().findChild<T *>(QLatin1String(name));
        if (!found)
            qFatal("there is no %s", name);
        return *found;
    }
    void press(const char *name) { QTest::mouseClick(&child<QToolButton>(name), Qt::LeftButton); }
    void openPage(const QString &name)
    {
        m_driver->session().select({app::TicketLine::Kind::Prepare});
        for (auto *tab : m_driver->window().findChildren<QToolButton *>())
            if (tab->text() == name && tab->isVisible())
                QTest::mouseClick(tab, Qt::LeftButton);
        m_driver->settle();
    }
    /// Through places of the canvas, by the left button.
    void drag(const QPoint &from, const QPoint &to, bool lets = true)
    {
        auto &canvas = m_driver->canvas();
        QTest::mousePress(&canvas, Qt::LeftButton, {}, from);
        QTest::mouseMove(&canvas, (from + to) / 2);
        QTest::mouseMove(&canvas, to);
        if (lets)
            QTest::mouseRelease(&canvas, Qt::LeftButton, {}, to);
    }
};

} // namespace buttonhole::test
