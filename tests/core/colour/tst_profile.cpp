#include "colour/profile.h"

#include "registry.h"
#include "samples.h"

#include <cmath>
#include <lcms2.h>

using namespace buttonhole;

class TstProfile : public QObject
{
    Q_OBJECT

    static double srgbToLinear(double v) // IEC 61966-2-1
    {
        return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    }

private Q_SLOTS:
    void srgbFollowsTheStandard()
    {
        const Profile &srgb = Profile::srgb();
        for (int i = 0; i <= 65535; i += 111)
            QVERIFY(std::abs(double(srgb.toLinear(1)[size_t(i)]) - srgbToLinear(i / 65535.0)) <
                    2e-6);
        // IEC 61966-2-1, linear RGB to XYZ.
        const double published[3][3] = {
            {0.4124, 0.3576, 0.1805}, {0.2126, 0.7152, 0.0722}, {0.0193, 0.1192, 0.9505}};
        for (size_t i = 0; i < 3; ++i)
            for (size_t j = 0; j < 3; ++j)
                QVERIFY(std::abs(srgb.toXyz()[i][j] - published[i][j]) < 6e-4);
    }

    void whiteIsExactlyWhite()
    {
        for (const Profile &profile : {Profile::srgb(), test::wideProfile()}) {
            const Vector3 white = profile.toXyz() * Vector3{1, 1, 1};
            for (size_t i = 0; i < 3; ++i)
                QVERIFY(std::abs(white[i] - kD65[i]) < 1e-12);
        }
    }

    void codesSurviveTheWayToLightAndBack()
    {
        for (const Profile &profile : {Profile::srgb(), test::wideProfile()}) {
            const auto &toLinear = profile.toLinear(0);
            const auto &fromRoot = profile.fromRoot(0);
            for (int code = 0; code <= 65535; code += 13) {
                const double at =
                    std::pow(double(toLinear[size_t(code)]), 0.25) * Profile::kEncodeSteps;
                const size_t i = std::min(size_t(at), size_t(Profile::kEncodeSteps - 1));
                const double back =
                    (fromRoot[i] + (at - double(i)) * (fromRoot[i + 1] - fromRoot[i])) * 65535.0;
                QVERIFY2(std::abs(back - code) < 0.1,
                         qPrintable(QStringLiteral("%1 -> %2").arg(code).arg(back)));
            }
        }
    }

    void ownIccReadsAsTheSameSpace()
    {
        const auto again = Profile::fromIcc(Profile::srgb().icc(), "again");
        QVERIFY(again);
        QVERIFY(again->isSameSpaceAs(Profile::srgb()));
        QVERIFY(!test::wideProfile().isSameSpaceAs(Profile::srgb()));
    }

    void equalProfilesHaveEqualBytes()
    {
        // The header's date is fixed, so that equal exports are equal files.
        QCOMPARE(Profile::srgb().icc()[24], uint8_t(0x07));
        QVERIFY(Profile::srgb().description().find("sRGB") != std::string::npos);
    }

    void refusesWhatIsNoMatrixProfile()
    {
        const auto broken = Profile::fromIcc({1, 2, 3, 4}, "pond.jpg");
        QVERIFY(!broken);
        QCOMPARE(broken.error().kind, ErrorKind::Damaged);
        QVERIFY(!Profile::fromIcc({}, "pond.jpg"));
        std::vector<uint8_t> cut = Profile::srgb().icc();
        cut.resize(cut.size() / 3);
        QVERIFY(!Profile::fromIcc(cut, "pond.jpg"));

        cmsToneCurve *gamma = cmsBuildGamma(nullptr, 1.8);
        cmsHPROFILE grey = cmsCreateGrayProfile(cmsD50_xyY(), gamma);
        cmsFreeToneCurve(gamma);
        cmsUInt32Number size = 0;
        cmsSaveProfileToMem(grey, nullptr, &size);
        std::vector<uint8_t> icc(size);
        cmsSaveProfileToMem(grey, icc.data(), &size);
        cmsCloseProfile(grey);
        const auto refused = Profile::fromIcc(icc, "pond.jpg");
        QCOMPARE(refused.error().kind, ErrorKind::InvalidArgument);
        QCOMPARE(readIccSummary(icc, "pond.jpg")->space, IccSummary::Space::Grey);

        // Such a photo is converted instead.
        const uint16_t pixels[3] = {0, 32768, 65535};
        uint16_t out[9] = {};
        QVERIFY(convertToSrgb16(icc, pixels, 1, 3, out, "pond.jpg"));
        const double expected = std::pow(32768 / 65535.0, 1.8);
        for (int c = 0; c < 3; ++c) {
            QVERIFY(std::abs(srgbToLinear(out[3 + c] / 65535.0) - expected) < 2e-3);
            QVERIFY(out[6 + c] > 65500);
            QVERIFY(out[c] < 40);
        }
        QVERIFY(!convertToSrgb16(icc, pixels, 4, 0, out, "pond.jpg"));
    }

private:
    static constexpr double kD65[3] = {0.95047, 1.0, 1.08883};
};

BUTTONHOLE_TEST(TstProfile)

#include "tst_profile.moc"
