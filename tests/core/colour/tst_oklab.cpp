#include "colour/oklab.h"

#include "registry.h"

using namespace buttonhole;

class TstOklab : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    /// The table of example values in Ottosson's article, given there to three decimals.
    void matchesThePublishedValues_data()
    {
        QTest::addColumn<QList<double>>("xyz");
        QTest::addColumn<QList<double>>("lab");
        QTest::newRow("white") << QList<double>{0.950, 1.000, 1.089}
                               << QList<double>{1.000, 0.000, 0.000};
        QTest::newRow("X") << QList<double>{1, 0, 0} << QList<double>{0.450, 1.236, -0.019};
        QTest::newRow("Y") << QList<double>{0, 1, 0} << QList<double>{0.922, -0.671, 0.263};
        QTest::newRow("Z") << QList<double>{0, 0, 1} << QList<double>{0.153, -1.415, -0.449};
    }
    void matchesThePublishedValues()
    {
        QFETCH(QList<double>, xyz);
        QFETCH(QList<double>, lab);
        const Oklab got = toOklab({xyz[0], xyz[1], xyz[2]});
        QVERIFY(std::abs(got.L - lab[0]) < 1.5e-3);
        QVERIFY(std::abs(got.a - lab[1]) < 1.5e-3);
        QVERIFY(std::abs(got.b - lab[2]) < 1.5e-3);
    }

    void neutralsAreExactlyNeutral()
    {
        for (const double y : {0.0, 0.001, 0.18, 0.5, 1.0, 3.0}) {
            const Oklab lab = toOklab({kWhiteD65[0] * y, y, kWhiteD65[2] * y});
            QVERIFY(std::abs(lab.L - std::cbrt(y)) < 1e-8);
            QVERIFY(chroma(lab) < 1e-8);
        }
        QCOMPARE(hueDeg({0.5, 0, 0}), 0.0);
    }

    void comesBackAsItWas()
    {
        for (double x = -0.2; x < 1.2; x += 0.35)
            for (double y = 0; y < 1.2; y += 0.3)
                for (double z = -0.1; z < 1.2; z += 0.35) {
                    const Vector3 back = toXyz(toOklab({x, y, z}));
                    QVERIFY(std::abs(back[0] - x) < 2e-5);
                    QVERIFY(std::abs(back[1] - y) < 2e-5);
                    QVERIFY(std::abs(back[2] - z) < 2e-5);
                }
    }

    void hueGoesOnceAround()
    {
        QCOMPARE(hueDeg({0.5, 0.1, 0}), 0.0);
        QCOMPARE(hueDeg({0.5, 0, 0.1}), 90.0);
        QCOMPARE(hueDeg({0.5, -0.1, 0}), 180.0);
        QCOMPARE(hueDeg({0.5, 0, -0.1}), 270.0);
    }

    void inverseUndoesAMatrix()
    {
        const Matrix3 product = inverse(kLmsRootToLab) * kLmsRootToLab;
        for (size_t i = 0; i < 3; ++i)
            for (size_t j = 0; j < 3; ++j)
                QVERIFY(std::abs(product[i][j] - (i == j ? 1.0 : 0.0)) < 1e-9);
    }
};

BUTTONHOLE_TEST(TstOklab)

#include "tst_oklab.moc"
