// Writes the pictures of docs/screenshots from the demo photos: scripts/screenshots runs it.
#include "document/tone_starts.h"
#include "grey/grey_details.h"
#include "grey/looks_gallery.h"
#include "prepare/prepare_details.h"
#include "sheet/sheet.h"
#include "window_driver.h"

#include <QApplication>
#include <QCheckBox>
#include <QDialog>
#include <QDir>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QTemporaryDir>
#include <QToolButton>

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

/// What was found on the shelf, the orange-red spool pointed at.
void pointAtSpool(WindowDriver &driver)
{
    driver.key(Qt::Key_8);
    const auto &offers = driver.window().toolbox().the<app::SubjectTool>().offers();
    const auto areTraced = [&] {
        return !offers.isEmpty() && std::all_of(offers.begin(), offers.end(),
                                                [](const auto &offer) { return offer.isTraced; });
    };
    (void)QTest::qWaitFor(areTraced, 60000);
    driver.hover(1325, 830);
}

/// The pages of the Grey line.
template <class Shoot>
void shootGrey(WindowDriver &driver, const Shoot &shoot)
{
    auto &grey = *driver.window().findChild<app::GreyDetails *>();
    auto &looks = *driver.window().findChild<app::LooksGallery *>();
    driver.session().select({app::TicketLine::Kind::Grey});
    (void)QTest::qWaitFor([&] { return looks.hasPictures(); }, 20000);
    QTest::mouseMove(&looks, looks.cell(7).center());
    shoot("looks");
    QTest::mouseClick(&looks, Qt::LeftButton, {}, looks.cell(2).center());
    QEvent leave(QEvent::Leave);
    QCoreApplication::sendEvent(&looks, &leave);
    grey.showPage(1);
    const auto drag = [&](double x, double y, int up) {
        const QPoint from = driver.at(x, y);
        QTest::mouseMove(&driver.canvas(), from);
        QTest::mousePress(&driver.canvas(), Qt::LeftButton, {}, from);
        QMouseEvent move(QEvent::MouseMove, QPointF(from.x(), from.y() - up),
                         driver.canvas().mapToGlobal(QPointF(from.x(), from.y() - up)),
                         Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&driver.canvas(), &move);
        QTest::mouseRelease(&driver.canvas(), Qt::LeftButton, {}, from - QPoint(0, up));
    };
    const auto dragHue = [&](double hueDeg, int up) {
        const PhotoLevels &levels = *driver.session().levels();
        for (int y = 300; y < levels.photo().height - 300; y += 40)
            for (int x = 100; x < levels.photo().width - 100; x += 20) {
                const PixelReading reading = readPixel(levels, x, y);
                if (std::abs(reading.hueDeg - hueDeg) < 4 && reading.chroma > 0.08)
                    return drag(x, y, up);
            }
    };
    dragHue(100, -60);
    dragHue(150, 60);
    dragHue(260, 110);
    shoot("hue-curve");
    grey.showPage(2);
    shoot("tone");
}

/// The pages of the Prepare line.
template <class Shoot>
void shootPrepare(WindowDriver &driver, const Shoot &shoot)
{
    auto &prepare = *driver.window().findChild<app::PrepareDetails *>();
    driver.session().select({app::TicketLine::Kind::Prepare});
    prepare.showPage(app::PrepareDetails::Light);
    QTest::mouseClick(prepare.findChild<QToolButton *>(QStringLiteral("autoLight")),
                      Qt::LeftButton);
    auto &done = *prepare.findChild<QLabel *>(QStringLiteral("autoDone"));
    (void)QTest::qWaitFor([&] { return !done.text().isEmpty(); }, 20000);
    QTest::mouseClick(prepare.findChild<QCheckBox *>(QStringLiteral("inColour")), Qt::LeftButton);
    shoot("light");
    prepare.showPage(app::PrepareDetails::Crop);
    Take take = *driver.session().take();
    take.geometry.crop = {60, 480, 2160, 1440};
    driver.session().edit(QStringLiteral("Crop of Prepare"), take);
    shoot("crop");
}

void click(WindowDriver &driver, double x, double y)
{
    driver.hover(x, y);
    QTest::mouseClick(&driver.canvas(), Qt::LeftButton, {}, driver.at(x, y));
}

/// Steps of several kinds in two keeps.
template <class Shoot>
void shootKeeps(WindowDriver &driver, const Shoot &shoot)
{
    driver.key(Qt::Key_5);
    click(driver, 900, 640);
    driver.key(Qt::Key_7);
    driver.key(Qt::Key_D);
    driver.paint(along({{900, 380}, {900, 980}}));
    driver.key(Qt::Key_A);
    driver.key(Qt::Key_K, Qt::ControlModifier);
    driver.key(Qt::Key_4);
    click(driver, 420, 640);
    driver.key(Qt::Key_5);
    click(driver, 1330, 620);
    shoot("colour-window");
    const uint64_t keep = driver.session().take()->keeps[0].id;
    driver.session().select({app::TicketLine::Kind::Keep, keep});
    driver.session().edit(QStringLiteral("Saturation of Magenta cloth 60 %"),
                          withKeep(*driver.session().take(), keep, [](Keep &k) {
                              k.name = "Magenta cloth";
                              k.look.saturation = 0.6F;
                              k.look.hueShiftDeg = -25;
                              k.featherPx = 3;
                          }));
    QTest::qWait(400); // its picture is made when changes rest
    shoot("keep-colour");
}

/// A ball of wool by a box, its fuzz by a soft edge.
template <class Shoot>
void shootSubject(const Shoot &shoot)
{
    QTemporaryDir settings;
    qputenv("XDG_DATA_HOME", settings.path().toLocal8Bit()); // no job or presets of one's own
    qputenv("XDG_CACHE_HOME", settings.path().toLocal8Bit());
    WindowDriver driver(settings.path());
    if (!driver.open(demo("wool-basket.jpg")))
        return;
    auto &subject = driver.window().toolbox().the<app::SubjectTool>();
    driver.key(Qt::Key_8);
    const auto isLooked = [&] { return subject.state() == app::SubjectTool::State::Looked; };
    (void)QTest::qWaitFor(isLooked, 20000);
    driver.paint({{1036, 381}, {1400, 800}, {1928, 1590}}, Qt::ShiftModifier);
    const auto isDone = [&] { return !subject.isUnfinished(); };
    (void)QTest::qWaitFor(isDone, 20000);
    driver.paint({{1190, 550}}, Qt::ControlModifier); // the ball behind
    (void)QTest::qWaitFor(isDone, 20000);
    const uint64_t keep = driver.session().take()->keeps[0].id;
    driver.session().select({app::TicketLine::Kind::Keep, keep});
    driver.session().edit(QStringLiteral("Soft edge"),
                          withKeep(*driver.session().take(), keep, [](Keep &k) {
                              k.name = "Teal ball";
                              k.softEdgePx = 8;
                              k.spill = 1;
                          }));
    driver.canvas().restoreView(1, {1420, 640});
    driver.hover(1500, 545);
    QTest::qWait(500); // the keep's picture follows
    shoot(driver, "soft-edge");
}

/// A spotlight on the boat.
void shootLocal(WindowDriver &driver)
{
    const Take &take = *driver.session().take();
    uint64_t last = 0;
    auto made = withToneStart(take, *driver.session().levels(), "spotlight", &take.keeps[0], &last);
    if (!made)
        return;
    driver.session().edit(QStringLiteral("New local tone"), std::move(*made));
    driver.session().select({app::TicketLine::Kind::Tone, last});
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

/// A job of the demo photos, and a preset pointed at.
template <class Shoot>
void shootMany(WindowDriver &driver, const Shoot &shoot)
{
    QTemporaryDir job;
    const QDir from(QStringLiteral(BUTTONHOLE_DEMO));
    for (const QString &name :
         from.entryList({QStringLiteral("*.jpg"), QStringLiteral("*.buttonhole")}))
        QFile::copy(from.filePath(name), job.filePath(name));
    driver.window().opening().openJob({job.path()});
    auto *sheet = driver.window().findChild<app::Sheet *>();
    (void)QTest::qWaitFor([&] { return sheet->isVisible() && sheet->model().pending() == 0; },
                          60000);
    sheet->show(job.filePath(QStringLiteral("mill-pond.jpg")));
    shoot(driver, "sheet");
    driver.window().actions()["sheet"]->setChecked(false);
    driver.open(job.filePath(QStringLiteral("mill-pond.buttonhole")));
    driver.window().actions()["copy-take"]->trigger();
    driver.window().actions()["presets"]->setChecked(true);
    auto *list = driver.window().findChild<QListWidget *>(QStringLiteral("presets"));
    (void)QTest::qWaitFor([&] { return list->count() > 0; }, 5000);
    const auto items = list->findItems(QStringLiteral("Letter home"), Qt::MatchExactly);
    if (!items.isEmpty())
        QTest::mouseMove(list->viewport(), list->visualItemRect(items.front()).center());
    shoot(driver, "presets");
}

} // namespace

int main(int argc, char **argv)
{
    QApplication application(argc, argv);
    const QString folder = argc > 1 ? QString::fromLocal8Bit(argv[1]) : QStringLiteral(".");
    QTemporaryDir settings;
    WindowDriver driver(settings.path());
    const auto shootWindow = [&](WindowDriver &of, const char *name) {
        of.settle();
        QTest::qWait(400); // the colour field and the stitch follow
        const QString file =
            folder + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
        if (!withDialog(of.window()).save(file))
            std::fprintf(stderr, "cannot write %s\n", qPrintable(file));
    };
    const auto shoot = [&](const char *name) { shootWindow(driver, name); };
    (void)QTest::qWaitFor([&] { return driver.window().jobs().isIdle(); }, 10000);
    shoot("empty");
    if (!driver.open(demo("spools.jpg")))
        return 1;
    pointAtSpool(driver);
    shoot("found");
    driver.key(Qt::Key_1);
    paintSpool(driver);
    driver.hover(1421, 830);
    QTest::qWait(400);
    shoot("keep");
    driver.key(Qt::Key_V);
    driver.key(Qt::Key_V);
    shoot("tinted");
    driver.key(Qt::Key_R);
    driver.key(Qt::Key_C, Qt::ShiftModifier);
    shoot("split");
    driver.key(Qt::Key_C, Qt::ShiftModifier);
    driver.canvas().restoreView(2, {1350, 800});
    driver.hover(1420, 830);
    shoot("edge-200");
    driver.canvas().fit();
    shootGrey(driver, shoot);
    driver.window().actions()["export"]->trigger();
    QTest::qWait(400); // until it starts to find its size
    shoot("export");
    QTemporaryDir others;
    WindowDriver second(others.path());
    if (!second.open(demo("washing-line.jpg")))
        return 1;
    shootKeeps(second, [&](const char *name) { shootWindow(second, name); });
    QTemporaryDir more;
    WindowDriver third(more.path());
    if (!third.open(demo("mill-pond.jpg")))
        return 1;
    third.key(Qt::Key_2);
    third.paint({{130, 770}, {900, 900}, {1690, 1110}}, Qt::ShiftModifier);
    const auto isDone = [&] {
        return !third.window().toolbox().the<app::RegionTool>().isUnfinished();
    };
    (void)QTest::qWaitFor(isDone, 20000);
    third.paint(along({{400, 850}, {1300, 850}}));
    (void)QTest::qWaitFor(isDone, 20000);
    third.hover(1480, 1040);
    shootWindow(third, "region");
    WindowDriver fourth(more.filePath(QStringLiteral("fourth")));
    if (!fourth.open(demo("mill-pond.jpg")))
        return 1;
    shootPrepare(fourth, [&](const char *name) { shootWindow(fourth, name); });
    shootSubject(shootWindow);
    shootLocal(third);
    shootWindow(third, "local");
    third.session().undo();
    WindowDriver fifth(more.filePath(QStringLiteral("fifth")));
    shootMany(fifth, shootWindow);
    return 0;
}
