#include "base/result.h"

#include "registry.h"

#include <cerrno>

using namespace buttonhole;

class TstResult : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void holdsAValueOrAnError()
    {
        Result<int> value = 4;
        QVERIFY(value);
        QCOMPARE(*value, 4);
        const Result<int> error = Error{ErrorKind::Damaged, "a.jpg", {}};
        QVERIFY(!error);
        QCOMPARE(error.error().kind, ErrorKind::Damaged);
        QVERIFY(Result<void>());
    }

    void everySentenceNamesTheFileAndEnds_data()
    {
        QTest::addColumn<int>("kind");
        for (int kind = 0; kind <= int(ErrorKind::Io); ++kind)
            QTest::newRow(kindName(ErrorKind(kind)).c_str()) << kind;
    }
    void everySentenceNamesTheFileAndEnds()
    {
        QFETCH(int, kind);
        const std::string text = sentence({ErrorKind(kind), "/mill/pond.jpg", "because"});
        QVERIFY(text.find("/mill/pond.jpg") != std::string::npos);
        QCOMPARE(text.back(), '.');
        QVERIFY(text.size() > 40 || ErrorKind(kind) == ErrorKind::InvalidArgument);
    }
    void kindNamesDiffer()
    {
        QSet<QString> names;
        for (int kind = 0; kind <= int(ErrorKind::Io); ++kind)
            names.insert(QString::fromStdString(kindName(ErrorKind(kind))));
        QCOMPARE(names.size(), int(ErrorKind::Io) + 1);
    }

    void systemErrorsBecomeKinds_data()
    {
        QTest::addColumn<int>("code");
        QTest::addColumn<int>("kind");
        QTest::newRow("missing") << ENOENT << int(ErrorKind::NotFound);
        QTest::newRow("a file where a folder should be") << ENOTDIR << int(ErrorKind::NotFound);
        QTest::newRow("refused") << EACCES << int(ErrorKind::NoPermission);
        QTest::newRow("read-only disk") << EROFS << int(ErrorKind::NoPermission);
        QTest::newRow("full") << ENOSPC << int(ErrorKind::DiskFull);
        QTest::newRow("quota") << EDQUOT << int(ErrorKind::DiskFull);
        QTest::newRow("other") << EIO << int(ErrorKind::Io);
    }
    void systemErrorsBecomeKinds()
    {
        QFETCH(int, code);
        QFETCH(int, kind);
        errno = code;
        QCOMPARE(int(systemError("x").kind), kind);
    }
};

BUTTONHOLE_TEST(TstResult)

#include "tst_result.moc"
