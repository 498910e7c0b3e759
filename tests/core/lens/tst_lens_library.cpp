#include "geometry/warp.h"
#include "lens/lens_library.h"

#include "registry.h"

#include <nlohmann/json.hpp>

#include <QFile>
#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;

namespace
{

constexpr double kK1 = 0.03; // of the made-up lens at 24 mm
constexpr double kV1 = -0.5;

/// Made-up lenses, as Lensfun writes them down.
constexpr const char *kLenses = R"(<lensdatabase version="1">
<mount><name>Fernhollow</name></mount>
<camera><maker>Fernhollow</maker><model>Mill One</model><mount>Fernhollow</mount><cropfactor>1</cropfactor></camera>
<lens><maker>Fernhollow</maker><model>Fernhollow 24-70mm f/4</model><mount>Fernhollow</mount><cropfactor>1</cropfactor>
<calibration>
<distortion model="poly3" focal="24" k1="0.03"/>
<distortion model="poly3" focal="70" k1="-0.01"/>
<tca model="linear" focal="24" kr="1.0006" kb="0.9994"/>
<vignetting model="pa" focal="24" aperture="4" distance="1000" k1="-0.5" k2="0.1" k3="0"/>
</calibration></lens>
<lens><maker>Fernhollow</maker><model>Fernhollow 50mm f/2</model><mount>Fernhollow</mount><cropfactor>1</cropfactor>
<calibration><distortion model="ptlens" focal="50" a="0.01" b="-0.03" c="0.02"/></calibration></lens>
</lensdatabase>)";

} // namespace

/// Measured lenses: found by what a photo says, and true to what they did.
class TstLensLibrary : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<LensLibrary> m_library;

    static TakenWith zoomAt(double focal)
    {
        return {"Fernhollow", "Mill One", "Fernhollow 24-70mm f/4", focal, 4};
    }

private Q_SLOTS:
    void initTestCase()
    {
        QFile file(m_folder.filePath(QStringLiteral("lenses.xml")));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(kLenses);
        file.close();
        m_library = std::make_unique<LensLibrary>(file.fileName().toStdString());
    }

    /// A grid as the lens bends it, by the formula of its model, comes back straight.
    void aGridComesBackStraight()
    {
        constexpr int kLensWidth = 6000;
        constexpr int kLensHeight = 4000;
        const auto profile = m_library->profileFor(zoomAt(24), kLensWidth, kLensHeight);
        QVERIFY2(profile, profile ? "" : profile.error().detail.c_str());
        QVERIFY(profile->name.find("24-70mm") != std::string::npos);
        // Lensfun's unit is half the height: Rd = Ru (1 - k1 + k1 Ru^2).
        const auto bent = [](double x, double y) {
            const double u = (x - kLensWidth / 2.0) / (kLensHeight / 2.0);
            const double v = (y - kLensHeight / 2.0) / (kLensHeight / 2.0);
            const double by = 1 - kK1 + kK1 * (u * u + v * v);
            return Warp::Place{u * by * kLensHeight / 2 + kLensWidth / 2.0,
                               v * by * kLensHeight / 2 + kLensHeight / 2.0};
        };
        const Warp warp({}, profile->distortion, kLensWidth, kLensHeight);
        double worst = 0;
        for (int y = 0; y <= kLensHeight; y += 200)
            for (int x = 0; x <= kLensWidth; x += 200) {
                const auto at = bent(x, y);
                const auto back = warp.toLevelled(at[0], at[1]);
                worst = std::max(worst, std::hypot(back[0] - x, back[1] - y));
            }
        QVERIFY2(worst <= 0.3, qPrintable(QString::number(worst)));
    }

    void cornersAndFringesAreAsMeasured()
    {
        const auto profile = m_library->profileFor(zoomAt(24), 6000, 4000);
        QVERIFY(profile);
        // Vignetting's unit is half the diagonal.
        for (const double r : {0.3, 0.7, 1.0}) {
            const double expected = 1 + kV1 * r * r + 0.1 * r * r * r * r;
            QVERIFY2(std::abs(profile->vignetting.at(r) - expected) < 0.003,
                     qPrintable(QString::number(profile->vignetting.at(r))));
        }
        QVERIFY(std::abs(profile->red.at(0.8) - 1.0006) < 1e-5);
        QVERIFY(std::abs(profile->blue.at(0.8) - 0.9994) < 1e-5);
        const auto fixed = m_library->profileNamed("Fernhollow 50mm f/2", {}, 3000, 2000);
        QVERIFY(fixed);
        QVERIFY(!fixed->distortion.isNone());
        QVERIFY(fixed->vignetting.isNone() && fixed->red.isNone() && fixed->blue.isNone());
    }

    void focalLengthsInBetweenAreInBetween()
    {
        const auto at = [&](double focal) {
            return m_library->profileFor(zoomAt(focal), 6000, 4000)->distortion.at(1);
        };
        QVERIFY(at(24) > at(40) && at(40) > at(70));
    }

    void whatIsNotKnownIsSaid()
    {
        const auto none = m_library->profileFor({}, 600, 400);
        QVERIFY(!none);
        QCOMPARE(none.error().kind, ErrorKind::NotFound);
        QVERIFY(none.error().detail.find("by hand") != std::string::npos);
        QVERIFY(!m_library->profileFor({"Nobody", "Nothing", "None 5mm", 5, 1}, 600, 400));
        QVERIFY(!m_library->profileNamed("None 5mm", {}, 600, 400));
        QVERIFY(LensLibrary("/nowhere/at/all.xml").search("50mm", 5).empty());
    }

    void namesAreFoundByTheirWords()
    {
        const auto found = m_library->search("fernhollow 50", 5);
        QVERIFY(!found.empty());
        QCOMPARE(found.front(), std::string("Fernhollow 50mm f/2"));
        QVERIFY(!LensLibrary::system().search("50mm", 40).empty());
    }

    void aTakeKeepsItsProfile()
    {
        const auto profile = m_library->profileFor(zoomAt(24), 6000, 4000);
        QVERIFY(profile);
        LensAmounts amounts;
        amounts.distortion = 0.5F;
        amounts.redFringe = -0.25F;
        nlohmann::json out;
        adjustmentToJson(out, Lens(*profile, amounts));
        std::vector<std::string> notes;
        const auto again = adjustmentFromJson(out, notes);
        QVERIFY(again);
        const auto &lens = dynamic_cast<const Lens &>(**again);
        QVERIFY(lens.profile() == *profile);
        QVERIFY(lens.amounts() == amounts);
        out["profile"]["distortion"] = {1, 2};
        QVERIFY(!adjustmentFromJson(out, notes));
        out["profile"]["distortion"] = {1, 0, 0, 0, 0, 0, 1e9};
        QVERIFY(!adjustmentFromJson(out, notes));
        out["profile"] = 3;
        QVERIFY(!adjustmentFromJson(out, notes));
    }
};

BUTTONHOLE_TEST(TstLensLibrary)

#include "tst_lens_library.moc"
