#pragma once

#include "render/render.h"

#include <QImage>
#include <QObject>
#include <QThreadPool>

#include <deque>
#include <map>
#include <mutex>
#include <stop_token>

namespace buttonhole::app
{

struct TileKey {
    View view = View::Result;
    int level = 0;
    int tx = 0;
    int ty = 0;
    auto operator<=>(const TileKey &) const = default; // NOLINT(modernize-use-nullptr)
};

/// What tiles are rendered from: values, safe to hold on any thread.
struct Scene {
    std::shared_ptr<const PhotoLevels> levels;
    std::shared_ptr<const Take> take;
    std::shared_ptr<const OutputColour> output;
    RenderOptions options;

    PictureMap map() const { return pictureOf(*levels, *take); }
};

/// Rendered tiles of the canvas, and the workers that make them. What is wanted is set anew with
/// every paint: newest first, what is no longer wanted is never begun. A tile that no longer fits
/// the take stays (and is shown) until its successor is there, so the canvas is never blank.
class TileStore : public QObject
{
    Q_OBJECT
public:
    explicit TileStore(QObject *parent = nullptr);
    ~TileStore() override;

    /// Another photo, geometry or output profile: all tiles go.
    void reset(const Scene &scene);
    /// The take changed inside `dirty` (photo px; empty: anywhere), but not in its geometry.
    void setTake(std::shared_ptr<const Take> take, const Rect &dirty);

    /// What View::Pinned shows.
    void setPinned(const Pinned &pinned);

    const QImage *find(const TileKey &key);
    bool isFresh(const TileKey &key) const;
    /// Asks for tiles, most urgent first; forgets what was asked before.
    void want(const std::vector<TileKey> &keys);
    /// Renders `dirty` into the fresh tiles of this view and level among `keys` at once, on the
    /// calling thread: the brush's path.
    void renderNow(const std::vector<TileKey> &keys, const Rect &dirty);

    /// Renders these tiles, all of one view and level, at once on the calling thread.
    void renderWholeNow(const std::vector<TileKey> &keys);

    /// Where a tile lies, px of its level; the grid is picture space's.
    PictureRect rectOf(const TileKey &key) const;
    bool isBusy() const;
    /// Memory for rendered tiles, and for the stages they are made from.
    void setBudget(size_t tileBytes, size_t stageBytes)
    {
        m_budget = std::max<size_t>(64, tileBytes / kTileBytes);
        m_stages->setBudget(stageBytes);
    }
    /// For other renders of the same masks.
    std::shared_ptr<StageCache> stages() const { return m_stages; }

Q_SIGNALS:
    void tileReady(const buttonhole::app::TileKey &key);
    void failed(const buttonhole::Error &error); ///< a tile could not be made; it is plain grey

private:
    struct Tile {
        QImage image;
        uint64_t rendered = 0; ///< generation of the take it shows
        uint64_t needed = 0;   ///< generation of the last change that touched it
        uint64_t used = 0;     ///< for letting go the least recently used
    };
    struct Order {
        TileKey key;
        Scene scene;
        uint64_t generation = 0;
        uint64_t epoch = 0;
    };
    void work();
    void receive(const Order &order, const QImage &image);
    void keepFresh();
    void evict();

    Scene m_scene;
    std::map<TileKey, Tile> m_tiles;
    uint64_t m_generation = 1; ///< counts changes of the take
    uint64_t m_epoch = 1;      ///< counts resets
    uint64_t m_clock = 0;
    static constexpr size_t kTileBytes = size_t(kTileSize) * kTileSize * 4;
    size_t m_budget = 640; ///< tiles
    const std::shared_ptr<StageCache> m_stages = std::make_shared<StageCache>();
    QThreadPool m_pool;

    mutable std::mutex m_mutex; ///< guards the three below
    std::deque<Order> m_orders;
    std::vector<std::pair<TileKey, uint64_t>> m_inHand; ///< being rendered, with generation
    int m_workers = 0;
};

/// A picture of any size, on the calling thread and its helpers; null where it cannot be made.
QImage renderImage(const Scene &scene, View view, int level, const PictureRect &area);

} // namespace buttonhole::app
