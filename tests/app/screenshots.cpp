// Writes the pictures of docs/screenshots from the demo photos: scripts/screenshots runs it.
#include "window_driver.h"

#include <QApplication>
#include <QDialog>
#include <QPainter>
#include <QTemporaryDir>

#include <cstdio>

using namespace buttonhole;
using namespace buttonhole::test;

namespace
{

QList<QPointF> along(std::initializer_list<QPointF> corners)
{
    QList<QPointF> out;
    const QList<QPointF> list(corners);
    for (int i = 0; i + 1 < list.size(); ++i)
        for (int k = 0; k < 12; ++k)
            out.append(list[i] + (list[i + 1] - list[i]) * (k / 12.0));
    out.append(list.back());
    return out;
}

void setTip(WindowDriver &driver, float size, float softness)
{
    Tip tip = driver.window().brush().tip();
    tip.sizePx = size;
    tip.softness = softness;
    tip.flow = 1;
    driver.window().brush().setTip(tip);
}

/// The orange-red spool of spools.jpg, painted as a user would: body, rims, a slip taken back.
void paintSpool(WindowDriver &driver)
{
    setTip(driver, 120, 0.1F);
    driver.paint(along({{1325, 770}, {1325, 890}}));
    setTip(driver, 52, 0.1F);
    driver.paint(along({{1270, 760}, {1272, 915}}));
    driver.paint(along({{1381, 760}, {1379, 915}}));
    setTip(driver, 30, 0.2F);
    driver.paint(along({{1250, 722}, {1325, 716}, {1402, 722}}));
    driver.paint(along({{1262, 932}, {1325, 938}, {1390, 932}}));
    setTip(driver, 26, 0.3F);
    driver.paint(along({{1418, 780}, {1418, 900}}), Qt::ControlModifier);
}

/// The window with the dialog that is open over it.
QImage withDialog(app::MainWindow &window)
{
    QImage picture = window.grab().toImage();
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    for (QDialog *dialog : window.findChildren<QDialog *>()) {
        const QImage front = dialog->grab().toImage();
        const QPoint at((picture.width() - front.width()) / 2,
                        (picture.height() - front.height()) / 3);
        painter.fillRect(QRect(at, front.size()).adjusted(-1, -1, 1, 1), QColor(0, 0, 0, 90));
        painter.drawImage(at, front);
    }
    return picture;
}

} // namespace

int main(int argc, char **argv)
{
    QApplication application(argc, argv);
    const QString folder = argc > 1 ? QString::fromLocal8Bit(argv[1]) : QStringLiteral(".");
    QTemporaryDir settings;
    WindowDriver driver(settings.path());
    const auto shoot = [&](const char *name) {
        driver.settle();
        QTest::qWait(50);
        const QString file =
            folder + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
        if (!withDialog(driver.window()).save(file))
            std::fprintf(stderr, "cannot write %s\n", qPrintable(file));
    };
    shoot("empty");
    if (!driver.open(demo("spools.jpg")))
        return 1;
    driver.hover(1300, 620);
    shoot("first-look");
    paintSpool(driver);
    driver.hover(1421, 830);
    shoot("keep");
    driver.key(Qt::Key_V);
    shoot("mask");
    driver.key(Qt::Key_V);
    shoot("tinted");
    driver.key(Qt::Key_V);
    shoot("cut-out");
    driver.key(Qt::Key_R);
    driver.key(Qt::Key_C, Qt::ShiftModifier);
    shoot("split");
    driver.key(Qt::Key_C, Qt::ShiftModifier);
    driver.canvas().restoreView(2, {1350, 800});
    driver.hover(1420, 830);
    shoot("edge-200");
    driver.canvas().fit();
    driver.window().actions()["export"]->trigger();
    QTest::qWait(400); // until it starts to find its size
    shoot("export");
    return 0;
}
