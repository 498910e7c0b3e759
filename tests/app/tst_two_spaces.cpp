#include "check/pick_glass.h"

#include "command_line.h"
#include "registry.h"
#include "sample_files.h"
#include "window_driver.h"

#include <QFile>
#include <QTemporaryDir>

using namespace buttonhole;
using namespace buttonhole::test;

/// A picture that is cropped, turned and mirrored, worked on by hand: what is painted lies under
/// the pointer.
class TstTwoSpaces : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;
    QString m_work;
    static constexpr Rect kCrop{900, 500, 1700, 1100};

    QString at(const char *name) const { return m_folder.filePath(QString::fromLatin1(name)); }

private Q_SLOTS:
    void initTestCase()
    {
        QFile take(at("take.json"));
        QVERIFY(take.open(QIODevice::WriteOnly));
        take.write(R"({"format": "buttonhole-take", "keeps": [{"name": "Teal ball"}]})");
        take.close();
        m_work = at("work.buttonhole");
        QFile::copy(demo("spools.jpg"), at("spools.jpg"));
        const std::string photo = at("spools.jpg").toStdString();
        QCOMPARE(runQuietly({"apply", "--take", take.fileName().toStdString(), photo, "--save",
                             m_work.toStdString(), "--crop", "900", "500", "800", "600", "--turn",
                             "1", "--mirror"}),
                 0);
        QCOMPARE(runQuietly({"apply", "--take", take.fileName().toStdString(), photo, "--save",
                             at("none.buttonhole").toStdString(), "--crop", "900", "500", "80000",
                             "600"}),
                 2);
    }

    void whatIsPaintedLiesUnderThePointer()
    {
        WindowDriver driver(at("settings"));
        driver.canvas().setShowsStitch(false);
        QVERIFY(driver.open(m_work));
        driver.settle();
        const app::ViewTransform &view = driver.canvas().transform();
        QCOMPARE(view.picture().rect().width(), 600); // it lies on its side
        QCOMPARE(view.picture().rect().height(), 800);
        const QRectF picture = view.boxOf(view.picture().rect());
        QVERIFY(picture.height() > 0.8 * driver.canvas().height()); // and is fitted

        for (const double scale : {0.0, 2.0, 0.31}) {
            if (scale > 0)
                driver.canvas().restoreView(scale, {1300, 800});
            driver.settle();
            driver.window().brush().setTip({60, 0, 1, 1, PressureSteers::Nothing});
            driver.paint({{1250, 760}, {1330, 820}});
            driver.settle();
            const Keep keep = driver.session().take()->keeps[0];
            const auto maskAt = [&](int x, int y) { return maskOf(keep, {x, y, x + 1, y + 1})[0]; };
            QCOMPARE(int(maskAt(1250, 760)), 65535);
            QCOMPARE(int(maskAt(1330, 820)), 65535);
            QCOMPARE(int(maskAt(1250, 820)), 0); // where it would lie unturned
            // Seen there, and only there: colour under the pointer, grey beside the stroke.
            QEvent leave(QEvent::Leave);
            QCoreApplication::sendEvent(&driver.canvas(), &leave);
            QVERIFY(colourfulness(driver.colourAt(1290, 790)) > 8);
            QVERIFY(colourfulness(driver.colourAt(1290, 900)) <= 2);
            driver.key(Qt::Key_Z, Qt::ControlModifier);
        }
    }

    void thePictureOnTheScreenIsTheOneThatLeaves()
    {
        WindowDriver driver(at("settings2"));
        driver.canvas().setShowsStitch(false);
        QVERIFY(driver.open(m_work));
        driver.window().brush().setTip({120, 0.5F, 1, 1, PressureSteers::Nothing});
        driver.paint({{1250, 760}, {1330, 820}});
        driver.canvas().restoreView(1, {1300, 800});
        driver.hover(1290, 790);
        driver.settle();
        const QString byWindow = at("window.png");
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        QVERIFY(driver.exportTo(byWindow, settings));
        QVERIFY(driver.exportTo(byWindow, settings));
        QVERIFY(driver.save(m_work));
        const QString byLine = at("line.png");
        QCOMPARE(runQuietly({"render", m_work.toStdString(), "-o", byLine.toStdString()}), 0);
        QCOMPARE(bytesOf(byLine), bytesOf(byWindow));

        const QImage left(byWindow);
        QCOMPARE(left.size(), QSize(600, 800));
        const app::ViewTransform &view = driver.canvas().transform();
        const PictureRect picture = view.picture().rect();
        QEvent leave(QEvent::Leave);
        QCoreApplication::sendEvent(&driver.canvas(), &leave);
        const QImage seen = driver.canvas().grab().toImage();
        int compared = 0;
        for (int y = 700; y < 900; y += 13)
            for (int x = 1200; x < 1400; x += 11) {
                const auto [u, v] = view.picture().pixelAt(x, y);
                const QPoint on = view.toWidget(QPointF(x + 0.5, y + 0.5)).toPoint();
                const QPoint pixel = view.boxOf(Rect{x, y, x + 1, y + 1}).topLeft().toPoint();
                QVERIFY((on - pixel).manhattanLength() <= 2);
                if (!seen.rect().contains(pixel))
                    continue;
                ++compared;
                const QColor screen = seen.pixelColor(pixel);
                const QColor file = left.pixelColor(u - picture.x0, v - picture.y0);
                QVERIFY(std::abs(screen.green() - file.green()) <= 1);
                QVERIFY(std::abs(screen.red() - file.red()) <= 1);
            }
        QVERIFY(compared > 100);
        // The glass shows them as the canvas does.
        driver.hover(1290, 790);
        const auto *glass = driver.window().findChild<app::PickGlass *>();
        const QImage enlarged = glass->picture();
        const auto [u, v] = view.picture().pixelAt(1290, 790);
        const QPoint middle(enlarged.width() / 2, enlarged.height() / 2);
        for (const QPoint off : {QPoint(0, 0), QPoint(5, 0), QPoint(0, 7)})
            QCOMPARE(enlarged.pixelColor(middle + off),
                     left.pixelColor(QPoint(u - picture.x0, v - picture.y0) + off));
    }

    void whatIsCroppedAwayIsThereAgainWithoutTheCrop()
    {
        WindowDriver driver(at("settings3"));
        QVERIFY(driver.open(m_work));
        driver.window().brush().setTip({200, 0, 1, 1, PressureSteers::Nothing});
        driver.paint({{910, 700}, {960, 700}}); // at the crop's border
        const Keep keep = driver.session().take()->keeps[0];
        QCOMPARE(int(maskOf(keep, {850, 700, 851, 701})[0]), 65535); // beyond it
        Take take = *driver.session().take();
        take.geometry = {};
        driver.session().edit(QStringLiteral("All of it"), take);
        driver.settle();
        const app::ViewTransform &view = driver.canvas().transform();
        QVERIFY(view.picture().isPlain());
        QVERIFY(colourfulness(driver.colourAt(850, 700)) > 8);
        driver.key(Qt::Key_Z, Qt::ControlModifier);
        driver.settle();
        QCOMPARE(view.picture().cropRect(), kCrop);
    }
};

BUTTONHOLE_TEST(TstTwoSpaces)

#include "tst_two_spaces.moc"
