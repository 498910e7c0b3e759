#include "canvas/tile_store.h"

#include "raster/parallel_tiles.h"
#include "raster/tile_pool.h"

#include <QThread>

#include <algorithm>

namespace buttonhole::app
{

namespace
{

Result<void> renderInto(QImage &image, const Scene &scene, View view, int level,
                        const PictureRect &area)
{
    const RenderTarget target{RenderTarget::Layout::Bgrx8, image.bits(),
                              size_t(image.bytesPerLine())};
    return renderPicture(*scene.levels, *scene.take, view, level, area, *scene.output, target,
                         scene.options);
}

/// Into memory of the pool, which the image gives back.
Result<QImage> renderTileImage(const Scene &scene, View view, int level, const PictureRect &area)
{
    using Held = std::shared_ptr<uint32_t[]>;
    auto held = std::make_unique<Held>(takeTileColours());
    auto *bits = reinterpret_cast<uchar *>(held->get());
    QImage image(
        bits, area.width(), area.height(), QImage::Format_RGB32,
        [](void *memory) { delete static_cast<Held *>(memory); }, held.release());
    if (auto done = renderInto(image, scene, view, level, area); !done)
        return done.error();
    return image;
}

PictureRect tileOf(const PictureMap &map, const TileKey &key)
{
    return intersected(map.rect(key.level),
                       PictureRect{key.tx * kTileSize, key.ty * kTileSize, (key.tx + 1) * kTileSize,
                                   (key.ty + 1) * kTileSize});
}

} // namespace

QImage renderImage(const Scene &scene, View view, int level, const PictureRect &area)
{
    QImage image(area.width(), area.height(), QImage::Format_RGB32);
    return renderInto(image, scene, view, level, area) ? image : QImage();
}

TileStore::TileStore(QObject *parent) : QObject(parent)
{
    m_pool.setMaxThreadCount(std::max(1, QThread::idealThreadCount()));
}

TileStore::~TileStore()
{
    {
        const std::scoped_lock lock(m_mutex);
        m_orders.clear();
    }
    m_pool.waitForDone();
}

void TileStore::reset(const Scene &scene)
{
    if (m_scene.levels != scene.levels)
        m_stages->clear();
    m_scene = scene;
    m_scene.options.cache = m_stages.get();
    m_tiles.clear();
    ++m_generation;
    ++m_epoch;
    const std::scoped_lock lock(m_mutex);
    m_orders.clear();
}

/// What changes so far did not touch is as new as they are.
void TileStore::keepFresh()
{
    for (auto &[key, tile] : m_tiles)
        if (tile.rendered >= tile.needed)
            tile.rendered = m_generation;
}

void TileStore::setTake(std::shared_ptr<const Take> take, const Rect &dirty)
{
    m_scene.take = std::move(take);
    keepFresh();
    ++m_generation;
    const PictureMap map = m_scene.map();
    for (auto &[key, tile] : m_tiles) {
        if (key.view == View::Original || (key.view == View::Pinned && m_scene.options.pinned.take))
            continue; // no move changes it but one of the geometry, which resets all
        const PictureRect part = map.toPicture(atLevel(dirty, key.level), key.level);
        if (dirty.isEmpty() || !intersected(tileOf(map, key), part).isEmpty())
            tile.needed = m_generation;
    }
}

void TileStore::setPinned(const Pinned &pinned)
{
    m_scene.options.pinned = pinned;
    std::erase_if(m_tiles, [](const auto &tile) { return tile.first.view == View::Pinned; });
    keepFresh();
    ++m_generation; // what is in hand of it shows what was pinned before
}

PictureRect TileStore::rectOf(const TileKey &key) const
{
    return tileOf(m_scene.map(), key);
}

const QImage *TileStore::find(const TileKey &key)
{
    const auto it = m_tiles.find(key);
    if (it == m_tiles.end() || it->second.image.isNull())
        return nullptr;
    it->second.used = ++m_clock;
    return &it->second.image;
}

bool TileStore::isFresh(const TileKey &key) const
{
    const auto it = m_tiles.find(key);
    return it != m_tiles.end() && !it->second.image.isNull() &&
           it->second.rendered >= it->second.needed;
}

void TileStore::want(const std::vector<TileKey> &keys)
{
    if (!m_scene.levels)
        return;
    const std::scoped_lock lock(m_mutex);
    m_orders.clear();
    for (const TileKey &key : keys) {
        if (isFresh(key))
            continue;
        const auto it = m_tiles.find(key);
        const uint64_t needed = it == m_tiles.end() ? m_generation : it->second.needed;
        const bool inHand = std::any_of(m_inHand.begin(), m_inHand.end(), [&](const auto &each) {
            return each.first == key && each.second >= needed;
        });
        if (!inHand)
            m_orders.push_back({key, m_scene, m_generation, m_epoch});
    }
    while (m_workers < m_pool.maxThreadCount() && m_workers < int(m_orders.size())) {
        ++m_workers;
        m_pool.start([this] { work(); });
    }
}

void TileStore::work()
{
    for (;;) {
        Order order;
        {
            const std::scoped_lock lock(m_mutex);
            if (m_orders.empty()) {
                --m_workers;
                return;
            }
            order = m_orders.front();
            m_orders.pop_front();
            m_inHand.emplace_back(order.key, order.generation);
        }
        QImage image;
        std::optional<Error> problem;
        try {
            const PictureRect area = tileOf(order.scene.map(), order.key);
            auto made = renderTileImage(order.scene, order.key.view, order.key.level, area);
            if (made)
                image = std::move(*made);
            else
                problem = made.error();
        } catch (...) {
            problem = caughtError(order.scene.levels->photo().path);
        }
        if (problem) {
            image = QImage(kTileSize, kTileSize, QImage::Format_RGB32); // not asked for again
            image.fill(Qt::gray);
        }
        QMetaObject::invokeMethod(this, [this, order, image, problem] {
            receive(order, image);
            if (problem)
                Q_EMIT failed(*problem);
        });
    }
}

void TileStore::receive(const Order &order, const QImage &image)
{
    {
        const std::scoped_lock lock(m_mutex);
        std::erase(m_inHand, std::pair(order.key, order.generation));
    }
    if (order.epoch != m_epoch)
        return;
    Tile &tile = m_tiles[order.key];
    if (!tile.image.isNull() && tile.rendered >= order.generation)
        return; // overtaken, by the brush for example
    if (tile.image.isNull() && tile.needed == 0)
        tile.needed = order.generation < m_generation ? m_generation : 0;
    tile.image = image;
    tile.rendered = order.generation;
    tile.used = ++m_clock;
    evict();
    Q_EMIT tileReady(order.key);
}

void TileStore::evict()
{
    while (m_tiles.size() > m_budget) {
        const auto oldest =
            std::min_element(m_tiles.begin(), m_tiles.end(), [](const auto &a, const auto &b) {
                return a.second.used < b.second.used;
            });
        m_tiles.erase(oldest);
    }
}

void TileStore::renderNow(const std::vector<TileKey> &keys, const Rect &dirty)
{
    struct Part {
        TileKey key;
        PictureRect area;
        RenderTarget target;
    };
    const PictureMap map = m_scene.map();
    std::vector<Part> parts;
    for (const TileKey &key : keys) {
        const auto it = m_tiles.find(key);
        if (it == m_tiles.end() || it->second.image.isNull())
            continue;
        Tile &tile = it->second;
        // Stale before this change: a part painted now would hide that the rest is old.
        if (tile.needed != m_generation || tile.rendered + 1 < m_generation)
            continue;
        const PictureRect whole = tileOf(map, key);
        const PictureRect area =
            intersected(whole, map.toPicture(atLevel(dirty, key.level), key.level));
        parts.push_back({key,
                         area,
                         {RenderTarget::Layout::Bgrx8,
                          tile.image.scanLine(area.y0 - whole.y0) + size_t(area.x0 - whole.x0) * 4,
                          size_t(tile.image.bytesPerLine())}});
        tile.rendered = m_generation;
    }
    parallelFor(int(parts.size()), [&](int i) {
        const Part &part = parts[size_t(i)];
        // What fails here is said when the tile is made anew.
        (void)renderPicture(*m_scene.levels, *m_scene.take, part.key.view, part.key.level,
                            part.area, *m_scene.output, part.target, m_scene.options);
    });
}

void TileStore::renderWholeNow(const std::vector<TileKey> &keys)
{
    // A draft is shown until the workers have the exact tile.
    RenderOptions options = m_scene.options;
    options.isDraft = true;
    const bool isExact = isExactAtOnce(*m_scene.levels, *m_scene.take);
    std::vector<std::pair<TileKey, Tile *>> parts;
    for (const TileKey &key : keys) {
        Tile &tile = m_tiles[key];
        const PictureRect area = rectOf(key);
        if (tile.image.size() != QSize(area.width(), area.height()))
            tile.image = QImage(area.width(), area.height(), QImage::Format_RGB32);
        tile.image.detach(); // a painter may hold the old pixels
        if (isExact)
            tile.rendered = m_generation;
        tile.used = ++m_clock;
        parts.emplace_back(key, &tile);
    }
    parallelFor(int(parts.size()), [&](int i) {
        const auto &[key, tile] = parts[size_t(i)];
        const RenderTarget target{RenderTarget::Layout::Bgrx8, tile->image.scanLine(0),
                                  size_t(tile->image.bytesPerLine())};
        (void)renderPicture(*m_scene.levels, *m_scene.take, key.view, key.level, rectOf(key),
                            *m_scene.output, target, options);
    });
    evict();
}

bool TileStore::isBusy() const
{
    const std::scoped_lock lock(m_mutex);
    return m_workers > 0 || !m_orders.empty() || !m_inHand.empty();
}

} // namespace buttonhole::app
