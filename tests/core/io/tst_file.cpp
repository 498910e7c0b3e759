#include "io/file.h"

#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <QDir>
#include <QFileInfo>
#include <QTemporaryDir>

#include <ctime>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

using namespace buttonhole;

class TstFile : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    std::string at(const char *name) const { return m_folder.filePath(name).toStdString(); }

private Q_SLOTS:
    void writesWholeFilesOrNothing()
    {
        const std::string path = at("work");
        QVERIFY(writeBytesAtomically(path, "first", 5));
        const auto failed = writeAtomically(path, [](const std::string &temporary) -> Result<void> {
            test::writeFile(QString::fromStdString(temporary), "half", 4);
            return Error{ErrorKind::DiskFull, temporary, {}};
        });
        QCOMPARE(failed.error().kind, ErrorKind::DiskFull);
        QCOMPARE(QString::fromStdString(failed.error().subject), QString::fromStdString(path));
        const auto bytes = readFile(path);
        QCOMPARE(std::string(bytes->begin(), bytes->end()), std::string("first"));
        QCOMPARE(QDir(m_folder.path()).entryList(QDir::Files).size(), 1);
    }

    /// What killed programs left goes; what is being written, is new or has another name stays.
    void leftoversOfKilledProgramsGo()
    {
        const QTemporaryDir folder;
        const auto put = [&](const char *name, int ageS) {
            const QString path = folder.filePath(QLatin1String(name));
            test::writeFile(path, "half", 4);
            const timespec when{time(nullptr) - ageS, 0};
            const timespec both[] = {when, when};
            ::utimensat(AT_FDCWD, path.toLocal8Bit().constData(), both, 0);
            return path.toLocal8Bit();
        };
        put(".part-abcdef", 700);
        put(".part-abcdeg", 10);
        put(".part-of-mine", 7000);
        const int written =
            ::open(put(".part-held00", 700).constData(), O_RDONLY | O_CLOEXEC); // by another
        QVERIFY(::flock(written, LOCK_EX) == 0);
        removeLeftovers(folder.path().toStdString());
        ::close(written);
        const QStringList left =
            QDir(folder.path()).entryList(QDir::Files | QDir::Hidden, QDir::Name);
        QCOMPARE(left, QStringList({".part-abcdeg", ".part-held00", ".part-of-mine"}));
    }

    void keepsTheModeOfTheFileReplaced()
    {
        const QString path = m_folder.filePath(QStringLiteral("private"));
        test::writeFile(path, "x", 1);
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
        QVERIFY(writeBytesAtomically(path.toStdString(), "y", 1));
        QCOMPARE(QFile::permissions(path) & (QFile::ReadGroup | QFile::ReadOther),
                 QFile::Permissions());
    }

    void readingSaysWhatIsWrong()
    {
        QCOMPARE(readFile(at("nothing")).error().kind, ErrorKind::NotFound);
        test::writeFile(m_folder.filePath(QStringLiteral("empty")), "", 0);
        QCOMPARE(readFile(at("empty")).error().kind, ErrorKind::Damaged);
        QCOMPARE(readFile(m_folder.path().toStdString()).error().kind, ErrorKind::NotAPhoto);
        QCOMPARE(writeBytesAtomically(at("no/such/file"), "x", 1).error().kind,
                 ErrorKind::NotFound);
    }

    void hashesAsTheStandardSays()
    {
        // FIPS 180-4's example for "abc".
        test::writeFile(m_folder.filePath(QStringLiteral("abc")), "abc", 3);
        QCOMPARE(QString::fromStdString(*sha256OfFile(at("abc"))),
                 QStringLiteral("ba7816bf8f01cfea414140de5dae2223"
                                "b00361a396177a9cb410ff61f20015ad"));
    }

    void knowsThePhotoBehindLinks()
    {
        test::writeFile(m_folder.filePath(QStringLiteral("photo.jpg")), "p", 1);
        QVERIFY(::symlink(at("photo.jpg").c_str(), at("link.jpg").c_str()) == 0);
        QVERIFY(::link(at("photo.jpg").c_str(), at("hard.jpg").c_str()) == 0);
        for (const char *name : {"photo.jpg", "link.jpg", "hard.jpg", "./photo.jpg"})
            QCOMPARE(checkIsNotPhoto(at(name), at("photo.jpg")).error().kind,
                     ErrorKind::InvalidArgument);
        QVERIFY(checkIsNotPhoto(at("other.jpg"), at("photo.jpg")));
    }
};

BUTTONHOLE_TEST(TstFile)

#include "tst_file.moc"
