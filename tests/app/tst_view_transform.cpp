#include "view/view_transform.h"

#include "registry.h"

#include <QtTest>

using namespace buttonhole;
using app::ViewTransform;

/// Where the photo lies on the canvas, without a window.
class TstViewTransform : public QObject
{
    Q_OBJECT

    static ViewTransform over(QSize canvas, int width, int height, double ratio = 1)
    {
        ViewTransform out;
        out.setCanvas(canvas, ratio);
        out.setPicture({{}, width, height});
        return out;
    }

private Q_SLOTS:
    void aPhotoIsFittedWithAMargin()
    {
        const ViewTransform view = over({1000, 700}, 6000, 4000);
        QVERIFY(view.isFitted());
        QCOMPARE(view.scale(), (1000 - 2 * ViewTransform::kFitMargin) / 6000);
        QVERIFY(std::abs(view.centre().x() - 3000) < 4 && std::abs(view.centre().y() - 2000) < 4);
        QVERIFY(view.visible(0) == (PictureRect{0, 0, 6000, 4000}));
    }

    void placesGoThereAndBack()
    {
        ViewTransform view = over({1000, 700}, 6000, 4000);
        view.zoomTo(1.7, {300, 200});
        for (const QPointF &at : {QPointF(0, 0), QPointF(1234.5, 678.25), QPointF(6000, 4000)}) {
            const QPointF back = view.toPhoto(view.toWidget(at));
            QVERIFY(std::hypot(back.x() - at.x(), back.y() - at.y()) < 1e-6);
        }
    }

    void zoomingKeepsThePlaceUnderThePointer()
    {
        ViewTransform view = over({1000, 700}, 6000, 4000);
        view.zoomTo(1, {500, 350});
        const QPointF pointer(420, 333);
        const QPointF before = view.toPhoto(pointer);
        view.zoomTo(4, pointer);
        const QPointF after = view.toPhoto(pointer);
        QVERIFY(std::hypot(after.x() - before.x(), after.y() - before.y()) < 0.6);
        view.zoomTo(1e9, pointer);
        QCOMPARE(view.scale(), ViewTransform::kMostScale);
        view.zoomTo(1e-9, pointer);
        QCOMPARE(view.scale(), ViewTransform::kLeastScale);
    }

    void panningStopsWithTheEdgeInTheMiddle()
    {
        ViewTransform view = over({1000, 700}, 6000, 4000);
        view.zoomTo(1, {500, 350});
        view.panBy({1e6, 1e6});
        QCOMPARE(view.toWidget(QPointF(0, 0)), QPointF(500, 350));
        view.panBy({-1e6, -1e6});
        QCOMPARE(view.toWidget(QPointF(6000, 4000)), QPointF(500, 350));
        // What is smaller than the canvas stays in its middle.
        ViewTransform small = over({1000, 700}, 200, 100);
        small.zoomTo(1, {0, 0});
        small.panBy({400, -300});
        QCOMPARE(small.toWidget(QPointF(0, 0)), QPointF(400, 300));
    }

    /// 100 % is a pixel of the photo on one of the screen, whatever the display's scale.
    void denseDisplaysShowDevicePixels()
    {
        ViewTransform view = over({1000, 700}, 6000, 4000, 2);
        view.zoomTo(1, {500, 350});
        QCOMPARE(view.logicalScale(), 0.5);
        const QPointF origin = view.toWidget(QPointF(0, 0)) * 2;
        QCOMPARE(origin, QPointF(std::round(origin.x()), std::round(origin.y())));
        QCOMPARE(view.visible(0).width(), 2000);
    }

    void theLevelIsAsFineAsTheScreen_data()
    {
        QTest::addColumn<double>("scale");
        QTest::addColumn<int>("level");
        QTest::newRow("400 %") << 4.0 << 0;
        QTest::newRow("100 %") << 1.0 << 0;
        QTest::newRow("51 %") << 0.51 << 0;
        QTest::newRow("50 %") << 0.5 << 1;
        QTest::newRow("20 %") << 0.2 << 2;
        QTest::newRow("as small as there is") << 1.0 / 64 << 3;
    }
    void theLevelIsAsFineAsTheScreen()
    {
        QFETCH(double, scale);
        QFETCH(int, level);
        ViewTransform view = over({1000, 700}, 60000, 40000);
        view.restore(scale, {30000, 20000});
        QCOMPARE(view.level(4), level);
    }

    void aNewSizeKeepsWhatWasLookedAt()
    {
        ViewTransform view = over({1000, 700}, 6000, 4000);
        view.restore(2, {1500, 900});
        view.setCanvas({640, 480}, 1);
        QVERIFY(std::abs(view.centre().x() - 1500) < 1 && std::abs(view.centre().y() - 900) < 1);
        QCOMPARE(view.scale(), 2.0);
        view.fit();
        view.setCanvas({320, 240}, 1); // a fitted photo stays fitted
        QCOMPARE(view.scale(), view.fitScale());
    }

    void aPictureIsFittedWhicheverWayItLies()
    {
        ViewTransform view;
        view.setCanvas({1000, 700}, 1);
        Geometry geometry{{1000, 500, 3000, 3700}, true, 1};
        view.setPicture({geometry, 6000, 4000});
        const QRectF box = view.boxOf(view.picture().rect());
        QVERIFY(std::abs(box.width() / box.height() - 3200.0 / 2000) < 1e-9); // it lies on its side
        QVERIFY(std::abs(box.center().x() - 500) < 1 && std::abs(box.center().y() - 350) < 1);
        QVERIFY(std::abs(view.centre().x() - 2000) < 4 && std::abs(view.centre().y() - 2100) < 4);
        // Mirrored, the photo's right comes to the left; turned, that comes to the top; and its
        // bottom to the left.
        const QPointF corner = view.toWidget(QPointF(3000, 3700));
        QVERIFY((corner - box.topLeft()).manhattanLength() < 1e-6);
        for (const QPointF photo : {QPointF(1000, 500), QPointF(2345.5, 678.25)})
            QVERIFY((view.toPhoto(view.toWidget(photo)) - photo).manhattanLength() < 1e-6);
        view.zoomTo(2, {100, 200});
        view.restore(4, {1500, 900});
        QVERIFY(std::abs(view.centre().x() - 1500) < 1 && std::abs(view.centre().y() - 900) < 1);
    }

    void withoutAPhotoOrACanvasNothingBreaks()
    {
        ViewTransform none;
        QVERIFY(none.visible(0).isEmpty());
        QCOMPARE(none.fitScale(), 1.0);
        none.setPicture({{}, 100, 100});
        none.zoomTo(2, {5, 5});
        QVERIFY(std::isfinite(none.toPhoto({3, 3}).x()));
    }
};

BUTTONHOLE_TEST(TstViewTransform)

#include "tst_view_transform.moc"
