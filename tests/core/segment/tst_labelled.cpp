#include "segment/labelled.h"

#include "registry.h"

#include <opencv2/imgproc.hpp>

using namespace buttonhole;

/// Labels of one size and place, seen at another.
class TstLabelled : public QObject
{
    Q_OBJECT

    static cv::Rect boundsOf(const cv::Mat1b &labels) { return cv::boundingRect(labels); }

private Q_SLOTS:
    void nothingMovesOverTheSameArea()
    {
        Labelled some{{40, 20, 140, 80}, cv::Mat1b(cv::Mat1b::zeros(30, 50))};
        some.labels(cv::Rect(10, 5, 20, 12)) = 255;
        const cv::Mat1b again = some.over(some.area, some.labels.size());
        QCOMPARE(cv::countNonZero(again != some.labels), 0);
    }

    void twiceAsFineIsTwiceAsLargeAtTheSamePlace()
    {
        Labelled some{{40, 20, 140, 80}, cv::Mat1b(cv::Mat1b::zeros(30, 50))};
        some.labels(cv::Rect(10, 6, 20, 12)) = 255;
        QVERIFY(boundsOf(some.over(some.area, {100, 60})) == cv::Rect(20, 12, 40, 24));
    }

    void aPartIsSeenWhereItLies()
    {
        Labelled some{{40, 20, 140, 80}, cv::Mat1b(cv::Mat1b::zeros(60, 100))};
        some.labels(cv::Rect(30, 10, 20, 20)) = 255; // from 70, 30 to 90, 50
        const cv::Mat1b part = some.over({60, 20, 100, 60}, {40, 40});
        QVERIFY(boundsOf(part) == cv::Rect(10, 10, 20, 20));
        QVERIFY(some.inPhoto({30, 10, 20, 20}) == (Rect{70, 30, 90, 50}));
    }

    void beyondItsAreaThereIsNothing()
    {
        const Labelled all{{40, 20, 60, 40}, cv::Mat1b(20, 20, uint8_t(255))};
        const Labelled larger = all.enlarged({20, 0, 100, 80}, 80);
        QCOMPARE(larger.labels.cols, 80);
        QCOMPARE(larger.labels.rows, 80);
        QVERIFY(boundsOf(larger.labels) == cv::Rect(20, 20, 20, 20));
        QCOMPARE(cv::countNonZero(larger.labels), 400);
    }
};

BUTTONHOLE_TEST(TstLabelled)

#include "tst_labelled.moc"
