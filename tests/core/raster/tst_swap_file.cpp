#include "raster/swap_file.h"

#include "registry.h"

#include <QTemporaryDir>

#include <numeric>
#include <thread>
#include <vector>

using namespace buttonhole;

namespace
{

std::vector<uint8_t> bytes(size_t size, uint8_t first)
{
    std::vector<uint8_t> out(size);
    std::iota(out.begin(), out.end(), first);
    return out;
}

} // namespace

/// The nameless file for what memory should not hold.
class TstSwapFile : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;
    std::string folder() const { return m_folder.path().toStdString(); }

private Q_SLOTS:
    void whatWasWrittenIsRead()
    {
        const auto file = SwapFile::create(folder());
        QVERIFY(file);
        const auto first = bytes(5000, 3);
        const auto second = bytes(70000, 90);
        const auto at = file->write(first.data(), first.size());
        const auto then = file->write(second.data(), second.size());
        QVERIFY(at && then && *at != *then);
        std::vector<uint8_t> back(second.size());
        QVERIFY(file->read(*then, back.data(), back.size()));
        QVERIFY(back == second);
        back.resize(first.size());
        QVERIFY(file->read(*at, back.data(), back.size()));
        QVERIFY(back == first);
        QVERIFY(!file->hasFailed());
    }

    void roomIsCountedAndGivenBack()
    {
        const auto file = SwapFile::create(folder());
        const auto some = bytes(12000, 1);
        const auto at = file->write(some.data(), some.size());
        QVERIFY(file->bytesInUse() >= some.size());
        file->release(*at, some.size());
        QCOMPARE(file->bytesInUse(), uint64_t(0));
    }

    /// Nobody finds it, and nothing is left behind.
    void itHasNoName()
    {
        const auto file = SwapFile::create(folder());
        const auto some = bytes(100, 1);
        QVERIFY(file->write(some.data(), some.size()));
        QVERIFY(QDir(m_folder.path()).isEmpty());
    }

    void noFolderNoFile() { QVERIFY(!SwapFile::create(folder() + "/nowhere")); }

    void beyondItsEndNothingIsRead()
    {
        const auto file = SwapFile::create(folder());
        const auto some = bytes(100, 1);
        QVERIFY(file->write(some.data(), some.size()));
        uint8_t byte = 0;
        QVERIFY(!file->read(1 << 20, &byte, 1));
    }

    void threadsDoNotWriteOverEachOther()
    {
        const auto file = SwapFile::create(folder());
        constexpr int kThreads = 4;
        std::vector<std::vector<uint64_t>> places(kThreads);
        std::vector<std::thread> threads;
        for (int t = 0; t < kThreads; ++t)
            threads.emplace_back([&, t] {
                for (int i = 0; i < 50; ++i) {
                    const std::vector<uint8_t> own(4096, uint8_t(t * 50 + i));
                    places[size_t(t)].push_back(*file->write(own.data(), own.size()));
                }
            });
        for (std::thread &thread : threads)
            thread.join();
        for (int t = 0; t < kThreads; ++t)
            for (int i = 0; i < 50; ++i) {
                std::vector<uint8_t> back(4096);
                QVERIFY(file->read(places[size_t(t)][size_t(i)], back.data(), back.size()));
                QVERIFY(back == std::vector<uint8_t>(4096, uint8_t(t * 50 + i)));
            }
    }
};

BUTTONHOLE_TEST(TstSwapFile)

#include "tst_swap_file.moc"
