#include "document/container.h"

#include "document/mask_import.h"
#include "document/take_json.h"
#include "document/zip.h"
#include "io/photo.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

#include <sys/stat.h>

using namespace buttonhole;
using nlohmann::json;

class TstContainer : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    QString m_photo;
    QString m_file;

    QString at(const char *name) const { return m_folder->filePath(QLatin1String(name)); }

    static constexpr uint64_t kMost = uint64_t(1) << 30;

    Container sample() const
    {
        Container container;
        Take take =
            test::makePaintedTake(640, 480,
                                  {test::makeStroke({90, 0.7F, 0.6F, 0.8F, PressureSteers::Nothing},
                                                    {{100, 100}, {400, 300}})});
        Take other = take;
        other.name = "Other";
        container.work.takes = {std::make_shared<const Take>(take),
                                std::make_shared<const Take>(other)};
        container.work.current = 1;
        container.photo = referenceTo(*loadPhoto(m_photo.toStdString()));
        container.windowJson = R"({"scale":2})";
        container.previewJpeg = {1, 2, 3};
        return container;
    }

    Result<void> save(Container container, bool packs = false)
    {
        return saveContainer(container, m_file.toStdString(), m_photo.toStdString(), {packs});
    }
    Result<Container> load() { return loadContainer(m_file.toStdString()); }

    /// Writes the saved file again with one entry replaced (or left out where `bytes` is null).
    void rewrite(const std::string &entry, const std::optional<std::string> &bytes)
    {
        const auto zip = ZipReader::open(m_file.toStdString());
        ZipWriter out;
        for (const std::string &name : zip->names()) {
            if (name != entry)
                out.add(name, zip->read(name, kMost).value(), ZipWriter::Compression::Store);
            else if (bytes)
                out.add(name, {bytes->begin(), bytes->end()}, ZipWriter::Compression::Store);
        }
        QVERIFY(out.writeTo(m_file.toStdString()));
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        m_photo = at("pond.png");
        m_file = at("pond.buttonhole");
        test::writeByLibrary(m_photo, test::makePicture<uint16_t>(640, 480), test::Type::U8);
    }

    void comesBackExactlyAsItWas()
    {
        QVERIFY(save(sample()));
        const auto back = load();
        QVERIFY2(back, back ? "" : sentence(back.error()).c_str());
        QVERIFY(back->notes.empty());
        const Container before = sample();
        QCOMPARE(back->work.takes.size(), size_t(2));
        QCOMPARE(back->work.current, size_t(1));
        QCOMPARE(back->work.take().name, std::string("Other"));
        QCOMPARE(back->windowJson, before.windowJson);
        QCOMPARE(back->previewJpeg, before.previewJpeg);
        const Rect all{0, 0, 640, 480};
        QCOMPARE(test::maskOf(back->work.take().keeps[0], all),
                 test::maskOf(before.work.take().keeps[0], all));
        size_t tiles = 0;
        const auto again = load();
        again->work.take().visitPlanes([&](const MaskPlane &plane) {
            plane.visitBlocks([&](const auto &block) {
                ++tiles;
                QVERIFY(block->isPacked()); // until somebody looks
            });
        });
        QVERIFY(tiles > 0);
        QCOMPARE(back->photo.relativePath, std::string("pond.png"));
        QCOMPARE(back->photo.sha256.size(), size_t(64));
        // It is an ordinary ZIP whose first entry names the type.
        const auto zip = ZipReader::open(m_file.toStdString());
        QCOMPARE(zip->names().front(), std::string("mimetype"));
        QVERIFY(zip->contains("takes/1/take.json"));
        QVERIFY(zip->contains("preview.jpg"));
    }

    void savingTwiceGivesTheSameWork()
    {
        QVERIFY(save(sample()));
        auto back = load();
        QVERIFY(save(std::move(*back)));
        const auto again = load();
        QCOMPARE(test::maskOf(again->work.take().keeps[0], {0, 0, 640, 480}),
                 test::maskOf(sample().work.take().keeps[0], {0, 0, 640, 480}));
    }

    /// Masks of steps that have not changed are copied from the last file; a file that was broken
    /// meanwhile is not trusted.
    void savingAgainKeepsWhatIsThere_data()
    {
        QTest::addColumn<QString>("harm");
        QTest::newRow("whole") << QString();
        QTest::newRow("gone") << QStringLiteral("gone");
        QTest::newRow("other") << QStringLiteral("other");
        QTest::newRow("rotten") << QStringLiteral("rotten");
    }
    void savingAgainKeepsWhatIsThere()
    {
        QFETCH(QString, harm);
        Container container = sample();
        SaveOptions options;
        const auto saveIt = [&] {
            return saveContainer(container, m_file.toStdString(), m_photo.toStdString(), options);
        };
        QVERIFY(saveIt());
        QCOMPARE(container.savedMasks.entries.size(), size_t(1)); // lo; hi is 65535 all over
        const std::string entry = container.savedMasks.entries.begin()->second;
        const auto before = ZipReader::open(m_file.toStdString())->read(entry, kMost);
        QVERIFY(before);
        const Take painted = test::makePaintedTake(
            640, 480, {test::makeStroke({50, 0, 1, 1, PressureSteers::Nothing}, {{500, 400}})});
        Take take = container.work.take();
        take = withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                           painted.keeps[0].steps[0].shape);
        container.work = container.work.with(take);
        if (harm == QLatin1String("gone")) {
            QVERIFY(QFile::remove(m_file));
        } else if (harm == QLatin1String("other")) {
            rewrite("preview.jpg", std::nullopt);
        } else if (harm == QLatin1String("rotten")) {
            QFile file(m_file);
            QVERIFY(file.open(QIODevice::ReadWrite));
            const QByteArray bytes = file.readAll();
            struct stat info {
            };
            QVERIFY(::fstat(file.handle(), &info) == 0);
            const timespec times[] = {info.st_atim, info.st_mtim};
            const QByteArray png(reinterpret_cast<const char *>(before->data()),
                                 qsizetype(before->size()));
            const qsizetype place = bytes.lastIndexOf(png);
            QVERIFY(place > 0);
            file.seek(place + png.size() / 2);
            file.write("rot");
            file.flush();
            QVERIFY(::futimens(file.handle(), times) == 0); // it looks as it was
        }
        options.replacesOther = harm == QLatin1String("other");
        QVERIFY(saveIt());
        const auto back = load();
        QVERIFY(back);
        QVERIFY(back->notes.empty());
        const Rect all{0, 0, 640, 480};
        QCOMPARE(test::maskOf(back->work.take().keeps[0], all), test::maskOf(take.keeps[0], all));
        QCOMPARE(ZipReader::open(m_file.toStdString())->read(entry, kMost).value(), *before);
        QCOMPARE(container.savedMasks.entries.size(), size_t(2));
    }

    void thePhotoIsNeverWrittenTo()
    {
        const auto before = test::bytesOf(m_photo);
        Container container = sample();
        const auto refused =
            saveContainer(container, m_photo.toStdString(), m_photo.toStdString(), {});
        QCOMPARE(refused.error().kind, ErrorKind::InvalidArgument);
        QVERIFY(QFile::link(m_photo, at("link.buttonhole")));
        QVERIFY(!saveContainer(container, at("link.buttonhole").toStdString(),
                               m_photo.toStdString(), {}));
        QCOMPARE(test::bytesOf(m_photo), before);
    }

    void theMovedPhotoIsFoundByItsHash()
    {
        QVERIFY(save(sample()));
        QVERIFY(QDir(m_folder->path()).mkdir(QStringLiteral("moved")));
        QVERIFY(QFile::rename(m_photo, at("moved/renamed.png")));
        auto container = load();
        const auto found =
            findPhoto(container->photo, m_file.toStdString(), m_folder->path().toStdString());
        QVERIFY(found);
        QCOMPARE(QString::fromStdString(found->path), at("moved/renamed.png"));
        QVERIFY(!found->note.empty());

        QVERIFY(QFile::remove(at("moved/renamed.png")));
        const auto missing =
            findPhoto(container->photo, m_file.toStdString(), m_folder->path().toStdString());
        QCOMPARE(missing.error().kind, ErrorKind::PhotoMissing);
    }

    void aChangedPhotoIsTakenWithANote()
    {
        QVERIFY(save(sample()));
        test::writeByLibrary(m_photo, test::makePicture<uint16_t>(640, 480), test::Type::U16);
        auto container = load();
        const auto found =
            findPhoto(container->photo, m_file.toStdString(), m_folder->path().toStdString());
        QVERIFY(found);
        QVERIFY(!found->note.empty());
    }

    void thePackedPhotoComesOutAgain()
    {
        QVERIFY(save(sample(), true));
        const auto before = test::bytesOf(m_photo);
        QVERIFY(QFile::remove(m_photo));
        auto container = load();
        QVERIFY(container->photo.packed);
        const auto found =
            findPhoto(container->photo, m_file.toStdString(), at("unpacked").toStdString());
        QVERIFY2(found, found ? "" : sentence(found.error()).c_str());
        QCOMPARE(test::bytesOf(QString::fromStdString(found->path)), before);
    }

    void brokenFilesAreWorded_data()
    {
        QTest::addColumn<QString>("entry");
        QTest::addColumn<QString>("bytes");
        QTest::addColumn<int>("kind");
        const int damaged = int(ErrorKind::Damaged);
        QTest::newRow("manifest is no JSON") << "buttonhole.json"
                                             << "{\"format\": " << damaged;
        QTest::newRow("manifest of another kind") << "buttonhole.json"
                                                  << "{}" << damaged;
        QTest::newRow("manifest missing") << "buttonhole.json" << QString() << damaged;
        QTest::newRow("manifest, photo missing") << "buttonhole.json"
                                                 << R"({"format": "buttonhole"})" << damaged;
        QTest::newRow("newer") << "buttonhole.json"
                               << R"({"format": "buttonhole", "readableFrom": 99})"
                               << int(ErrorKind::Newer);
        QTest::newRow("take is no JSON") << "takes/1/take.json"
                                         << "[" << damaged;
        QTest::newRow("take missing") << "takes/2/take.json" << QString() << damaged;
        QTest::newRow("take is a list") << "takes/2/take.json"
                                        << "[]" << damaged;
    }
    void brokenFilesAreWorded()
    {
        QFETCH(QString, entry);
        QFETCH(QString, bytes);
        QFETCH(int, kind);
        QVERIFY(save(sample()));
        rewrite(entry.toStdString(),
                bytes.isNull() ? std::nullopt : std::optional(bytes.toStdString()));
        const auto back = load();
        QVERIFY(!back);
        QCOMPARE(int(back.error().kind), kind);
        const QString said = QString::fromStdString(sentence(back.error()));
        QVERIFY(said.contains(m_file));
        QVERIFY2(!said.contains(QStringLiteral("json.exception")), qPrintable(said));
    }

    void aMissingOrBrokenMaskIsPaintedAgain_data()
    {
        QTest::addColumn<bool>("missing");
        QTest::newRow("missing") << true;
        QTest::newRow("broken") << false;
    }
    void aMissingOrBrokenMaskIsPaintedAgain()
    {
        QFETCH(bool, missing);
        QVERIFY(save(sample()));
        const std::string entry = "takes/2/masks/keep-1-step-2-lo.png";
        QVERIFY(ZipReader::open(m_file.toStdString())->contains(entry));
        rewrite(entry, missing ? std::nullopt : std::optional<std::string>("no picture"));
        const auto back = load();
        QVERIFY2(back, back ? "" : sentence(back.error()).c_str());
        QCOMPARE(back->notes.size(), size_t(1));
        QCOMPARE(test::maskOf(back->work.take().keeps[0], {0, 0, 640, 480}),
                 test::maskOf(sample().work.take().keeps[0], {0, 0, 640, 480}));
    }

    void cutAndForeignFiles()
    {
        QVERIFY(save(sample()));
        auto bytes = test::bytesOf(m_file);
        test::writeFile(m_file, bytes.data(), bytes.size() / 2);
        QCOMPARE(load().error().kind, ErrorKind::Damaged);
        test::writeFile(m_file, "mill", 4);
        QCOMPARE(load().error().kind, ErrorKind::Damaged);
        test::writeFile(m_file, "", 0);
        QCOMPARE(load().error().kind, ErrorKind::Damaged);
        QVERIFY(QFile::remove(m_file));
        QCOMPARE(load().error().kind, ErrorKind::NotFound);
    }

    void whatANewerVersionPutInStays()
    {
        QVERIFY(save(sample()));
        const auto zip = ZipReader::open(m_file.toStdString());
        json manifest = json::parse(zip->read("buttonhole.json", kMost).value());
        manifest["contactSheet"] = {1, 2};
        rewrite("buttonhole.json", manifest.dump());
        {
            const auto again = ZipReader::open(m_file.toStdString());
            ZipWriter out;
            for (const std::string &name : again->names())
                out.add(name, again->read(name, kMost).value(), ZipWriter::Compression::Store);
            out.add("loupes/1.bin", {9, 8, 7}, ZipWriter::Compression::Store);
            QVERIFY(out.writeTo(m_file.toStdString()));
        }
        auto back = load();
        QVERIFY(save(std::move(*back)));
        const auto kept = ZipReader::open(m_file.toStdString());
        QCOMPARE(kept->read("loupes/1.bin", kMost).value(), (std::vector<uint8_t>{9, 8, 7}));
        QCOMPARE(
            json::parse(kept->read("buttonhole.json", kMost).value()).at("contactSheet").dump(),
            std::string("[1,2]"));
    }

    void aStoppedSaveLeavesTheOldFile()
    {
        QVERIFY(save(sample()));
        const auto before = test::bytesOf(m_file);
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        Container container = sample();
        const auto stopped =
            saveContainer(container, m_file.toStdString(), m_photo.toStdString(), {}, run);
        QCOMPARE(stopped.error().kind, ErrorKind::Cancelled);
        QCOMPARE(test::bytesOf(m_file), before);
    }

    void whatSomebodyElseWroteIsNotOverwritten()
    {
        QVERIFY(save(sample()));
        auto mine = load();
        auto theirs = load();
        QVERIFY(save(std::move(*theirs)));
        const auto before = test::bytesOf(m_file);
        const auto refused = saveContainer(*mine, m_file.toStdString(), m_photo.toStdString(), {});
        QVERIFY(!refused);
        QCOMPARE(refused.error().kind, ErrorKind::Conflict);
        QCOMPARE(test::bytesOf(m_file), before);
        const std::string beside = freeNameBeside(m_file.toStdString());
        QCOMPARE(QString::fromStdString(beside), at("pond 2.buttonhole"));
        QVERIFY(saveContainer(*mine, beside, m_photo.toStdString(), {}));
        QVERIFY(saveContainer(*mine, beside, m_photo.toStdString(), {})); // its own by now
        SaveOptions replaces;
        replaces.replacesOther = true;
        mine->ownPath = m_file.toStdString();
        QVERIFY(saveContainer(*mine, m_file.toStdString(), m_photo.toStdString(), replaces));
    }

    void oneAtATimeWorksOnAFile()
    {
        QVERIFY(save(sample()));
        auto lock = WorkLock::take(m_file.toStdString());
        QVERIFY(lock && lock->isOf(m_file.toStdString()));
        QVERIFY(!WorkLock::take(m_folder->path().toStdString() + "/./pond.buttonhole"));
        Container other = sample();
        QCOMPARE(saveContainer(other, m_file.toStdString(), m_photo.toStdString(), {}).error().kind,
                 ErrorKind::Conflict);
        SaveOptions own;
        own.lock = lock;
        QVERIFY(saveContainer(other, m_file.toStdString(), m_photo.toStdString(), own));
        own.lock.reset();
        lock.reset();
        QVERIFY(WorkLock::take(m_file.toStdString()));
    }

    void aPhotoThatIsAwayStaysKnown()
    {
        Container container = sample(); // as it was opened
        QVERIFY(QDir(m_folder->path()).mkdir(QStringLiteral("away")));
        QVERIFY(QFile::rename(m_photo, at("away/other.png")));
        QVERIFY(save(std::move(container)));
        const auto back = load();
        QCOMPARE(back->photo.relativePath, std::string("pond.png"));
        const auto found =
            findPhoto(back->photo, m_file.toStdString(), m_folder->path().toStdString());
        QVERIFY(found);
        QCOMPARE(QString::fromStdString(found->path), at("away/other.png"));
    }

    void aReplacedPhotoIsSaidAndTheOpenedOneKept()
    {
        const auto photo = loadPhoto(m_photo.toStdString());
        Container container = sample();
        const std::string digest = container.photo.sha256;
        test::writeByLibrary(m_photo, test::makePicture<uint16_t>(640, 480, 1), test::Type::U8);
        SaveOptions options;
        options.photoStamp = photo->stamp;
        QVERIFY(saveContainer(container, m_file.toStdString(), m_photo.toStdString(), options));
        QCOMPARE(container.notes.size(), size_t(1));
        const auto back = load();
        QCOMPARE(back->photo.sha256, digest);
        options.packPhoto = true; // another picture is not packed as if it were that one
        QVERIFY(saveContainer(container, m_file.toStdString(), m_photo.toStdString(), options));
        QVERIFY(!container.photo.packed);
        QCOMPARE(container.notes.size(), size_t(2));
    }

    /// A photo that is only inside of its work stays there, whatever is asked for.
    void theOnlyCopyOfAPhotoIsNotDropped()
    {
        QVERIFY(save(sample(), true));
        const auto before = test::bytesOf(m_photo);
        QVERIFY(QFile::remove(m_photo));
        auto container = load();
        const auto found =
            findPhoto(container->photo, m_file.toStdString(), at("unpacked").toStdString());
        QVERIFY(found);
        QVERIFY(saveContainer(*container, m_file.toStdString(), found->path, {}));
        QVERIFY(QFile::remove(QString::fromStdString(found->path))); // the cache was cleared
        QVERIFY(saveContainer(*container, m_file.toStdString(), found->path, {}));
        const auto again = load();
        QVERIFY(again->photo.packed);
        const auto out =
            findPhoto(again->photo, m_file.toStdString(), at("unpacked").toStdString());
        QVERIFY2(out, out ? "" : sentence(out.error()).c_str());
        QCOMPARE(test::bytesOf(QString::fromStdString(out->path)), before);
    }

    void unpackingFollowsNoLinks()
    {
        QVERIFY(save(sample(), true));
        const auto container = load();
        QVERIFY(QFile::remove(m_photo));
        const QString folder = at("unpacked/") + QString::fromStdString(container->photo.sha256);
        QVERIFY(QDir().mkpath(folder));
        test::writeFile(at("mine"), "mine", 4);
        QVERIFY(QFile::link(at("mine"), folder + QStringLiteral("/pond.png")));
        QVERIFY(findPhoto(container->photo, m_file.toStdString(), at("unpacked").toStdString()));
        QCOMPARE(test::bytesOf(at("mine")).size(), size_t(4));
        QVERIFY(QDir(at("unpacked")).removeRecursively());
        QVERIFY(QDir().mkpath(at("elsewhere")));
        QVERIFY(QFile::link(at("elsewhere"), at("unpacked")));
        QVERIFY(!findPhoto(container->photo, m_file.toStdString(), at("unpacked").toStdString()));
        QVERIFY(QDir(at("elsewhere")).isEmpty());
    }

    void aWorkIsSavedUnderItsEndingOnly()
    {
        for (const char *name : {"v1.2", "work.old", "other.png", "buttonhole"}) {
            Container container = sample();
            QCOMPARE(saveContainer(container, at(name).toStdString(), m_photo.toStdString(), {})
                         .error()
                         .kind,
                     ErrorKind::InvalidArgument);
            QVERIFY(!QFile::exists(at(name)));
        }
        Container container = sample();
        QVERIFY(saveContainer(container, at("POND.Buttonhole").toStdString(), m_photo.toStdString(),
                              {}));
        QVERIFY(isContainerPath("x/POND.BUTTONHOLE"));
        test::writeFile(at("photo.buttonhole"), "\xFF\xD8\xFF", 3);
        QCOMPARE(saveContainer(container, at("photo.buttonhole").toStdString(),
                               m_photo.toStdString(), {})
                     .error()
                     .kind,
                 ErrorKind::InvalidArgument);
    }

    /// A picture that is not there is not found in another step's, nor made up of what is outside.
    void whatATakeShowsItShowsWhenOpenedAgain()
    {
        std::vector<std::string> notes;
        const auto take =
            takeFromText(R"({"format": "buttonhole-take", "keeps": [{"id": 1, "steps": [
            {"id": 2, "kind": "picture",
             "mask": {"file": "masks/keep-1-step-3-lo.png", "outside": 0, "x": 0, "y": 0}},
            {"id": 3, "sign": "subtract", "kind": "brush", "strokes": [
             {"sizePx": 80, "softness": 0, "flow": 1, "opacity": 1, "points": [[100, 100], [300, 200]]}]}]},
            {"id": 4, "steps": [{"id": 5, "kind": "picture", "mask": {"outside": 65535}}]}]})",
                         640, 480, "take", notes);
        QVERIFY2(take, take ? "" : sentence(take.error()).c_str());
        Container container = sample();
        container.work = {{std::make_shared<const Take>(*take)}, 0};
        QVERIFY(save(container));
        const auto back = load();
        QVERIFY2(back, back ? "" : sentence(back.error()).c_str());
        const Rect all{0, 0, 640, 480};
        for (size_t k = 0; k < 2; ++k)
            QCOMPARE(test::maskOf(back->work.take().keeps[k], all),
                     test::maskOf(take->keeps[k], all));
        QCOMPARE(test::maskOf(take->keeps[0], all)[200 * 640 + 300], uint16_t(0));
        QCOMPARE(test::maskOf(take->keeps[1], all)[0], uint16_t(65535));
    }

    void maskPicturesMustFit()
    {
        const auto grey = test::makePicture<uint16_t>(64, 48, 1);
        test::writeByLibrary(at("mask.png"), grey, test::Type::U16);
        const auto shape = loadMaskPicture(at("mask.png").toStdString(), 64, 48);
        QVERIFY(shape);
        const auto &plane = dynamic_cast<const PictureStep &>(**shape).plane();
        QCOMPARE(plane.at(10, 20), *grey.pixel(10, 20));
        QCOMPARE(loadMaskPicture(at("mask.png").toStdString(), 64, 50).error().kind,
                 ErrorKind::InvalidArgument);
    }
};

BUTTONHOLE_TEST(TstContainer)

#include "tst_container.moc"
