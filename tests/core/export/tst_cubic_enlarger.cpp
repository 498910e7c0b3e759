#include "export/cubic_enlarger.h"
#include "export/export.h"

#include "registry.h"
#include "samples.h"

#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;

/// Pictures made larger, and delivered at a size that was asked for.
class TstCubicEnlarger : public QObject
{
    Q_OBJECT

    static std::vector<std::vector<uint16_t>> enlarged(int width, int height, int toWidth,
                                                       int toHeight, const auto &paint)
    {
        CubicEnlarger enlarger(width, height, toWidth, toHeight, Profile::srgb());
        std::vector<std::vector<uint16_t>> out;
        std::vector<uint16_t> row(size_t(width) * 3);
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < width; ++x)
                for (size_t c = 0; c < 3; ++c)
                    row[size_t(x) * 3 + c] = uint16_t(paint(x, y));
            enlarger.addRow(row.data(), [&](const uint16_t *made) {
                out.emplace_back(made, made + size_t(toWidth) * 3);
            });
        }
        return out;
    }
    static double light(double code)
    {
        const double v = code / 65535;
        return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    }

private Q_SLOTS:
    /// By the weights of the paper, in double, on the whole picture at once.
    void itIsTheCubic()
    {
        const auto paint = [](int x, int y) { return (x * 7919 + y * 104729) % 65536; };
        constexpr int kWidth = 13;
        constexpr int kHeight = 9;
        constexpr int kToWidth = 31;
        constexpr int kToHeight = 22;
        const auto rows = enlarged(kWidth, kHeight, kToWidth, kToHeight, paint);
        QCOMPARE(rows.size(), size_t(kToHeight));
        const auto weight = [](double d) {
            d = std::abs(d);
            return d < 1   ? 1.5 * d * d * d - 2.5 * d * d + 1
                   : d < 2 ? -0.5 * d * d * d + 2.5 * d * d - 4 * d + 2
                           : 0.0;
        };
        for (int y = 0; y < kToHeight; ++y)
            for (int x = 0; x < kToWidth; ++x) {
                const double px = (x + 0.5) * kWidth / kToWidth - 0.5;
                const double py = (y + 0.5) * kHeight / kToHeight - 0.5;
                double sum = 0;
                for (int j = int(std::floor(py)) - 1; j <= int(std::floor(py)) + 2; ++j)
                    for (int i = int(std::floor(px)) - 1; i <= int(std::floor(px)) + 2; ++i)
                        sum += weight(px - i) * weight(py - j) *
                               light(paint(std::clamp(i, 0, kWidth - 1),
                                           std::clamp(j, 0, kHeight - 1)));
                const double is = light(rows[size_t(y)][size_t(x) * 3 + 1]);
                QVERIFY(std::abs(is - std::clamp(sum, 0.0, 1.0)) < 1e-4);
            }
    }

    void whatIsOneColourStaysSo()
    {
        for (const auto &row : enlarged(5, 4, 17, 13, [](int, int) { return 31000; }))
            for (const uint16_t code : row)
                QVERIFY(std::abs(code - 31000) <= 1);
    }

    void picturesLeaveInTheSizeAskedFor_data()
    {
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("height");
        QTest::addColumn<int>("longEdge");
        QTest::addColumn<QSize>("leaves");
        QTest::newRow("own") << 0 << 0 << 0 << QSize(300, 200);
        QTest::newRow("smaller") << 150 << 90 << 0 << QSize(150, 90);
        QTest::newRow("larger") << 700 << 500 << 0 << QSize(700, 500);
        QTest::newRow("wider only") << 400 << 180 << 0 << QSize(400, 180);
        QTest::newRow("long edge of it") << 150 << 90 << 100 << QSize(100, 60);
    }
    void picturesLeaveInTheSizeAskedFor()
    {
        QFETCH(const int, width);
        QFETCH(const int, height);
        QFETCH(const int, longEdge);
        QFETCH(const QSize, leaves);
        const auto levels = test::levelsOf(300, 200, [](int x, int y) {
            return std::array{x * 255 / 300, y, 90};
        });
        Take take = makeTake();
        take.greyOn = false;
        take.geometry.deliverWidth = width;
        take.geometry.deliverHeight = height;
        QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("out.png")).toStdString();
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        settings.longEdgePx = longEdge;
        const auto made = exportPicture(*levels, take, settings, path);
        QVERIFY2(made, made ? "" : made.error().detail.c_str());
        QCOMPARE(QSize(made->width, made->height), leaves);
        const auto photo = loadPhoto(path);
        QVERIFY(photo);
        QCOMPARE(QSize(photo->width, photo->height), leaves);
        const int right = test::codeAt(*photo, leaves.width() - 1, 0, 0) / 257;
        QVERIFY(std::abs(right - 254) <= 3);
        const int bottom = test::codeAt(*photo, 0, leaves.height() - 1, 1) / 257;
        QVERIFY(std::abs(bottom - 199) <= 3);
    }
};

BUTTONHOLE_TEST(TstCubicEnlarger)

#include "tst_cubic_enlarger.moc"
