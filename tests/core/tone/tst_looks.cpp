#include "grey_samples.h"
#include "registry.h"
#include "tone/looks.h"

#include <set>

using namespace buttonhole;
using namespace buttonhole::test;

class TstLooks : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void looksAreManyAndAllDifferent()
    {
        QVERIFY(looks().size() >= 14);
        const auto levels = PhotoLevels::make(test::makePhoto(64, 64)).value();
        std::set<std::string> names;
        std::set<std::vector<uint16_t>> pictures;
        for (const Look &look : looks()) {
            QVERIFY2(check(look.mix), look.name.c_str());
            QVERIFY(names.insert(look.name).second);
            QVERIFY2(pictures.insert(render(*levels, look.mix)).second, look.name.c_str());
            QCOMPARE(look.mix.look, look.name);
        }
        QVERIFY(!findLook("no such look"));
    }
};

BUTTONHOLE_TEST(TstLooks)

#include "tst_looks.moc"
