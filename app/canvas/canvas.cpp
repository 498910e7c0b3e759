#include "canvas/canvas.h"

#include "canvas/stitch.h"
#include "render/light_chain.h"
#include "style/theme.h"

#include <QPainter>
#include <QTabletEvent>
#include <QWheelEvent>

#include <cmath>

namespace buttonhole::app
{

Canvas::Canvas(Session &session, Toolbox &toolbox, GreyDrag &grey, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_toolbox(toolbox), m_grey(grey), m_jobs(jobs),
      m_output(std::make_shared<const OutputColour>(Profile::srgb())),
      m_surround(surroundColour(Surround::Mid))
{
    setMouseTracking(true);
    setTabletTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setAccessibleName(tr("Canvas"));
    setMinimumSize(320, 240);
    m_clock.start();
    grabGesture(Qt::PinchGesture);
    connect(&m_session, &Session::photoChanged, this, &Canvas::onPhotoChanged);
    connect(&m_session, &Session::takeChanged, this, &Canvas::onTakeChanged);
    connect(&m_session, &Session::lineChanged, this, &Canvas::onLineChanged);
    connect(&m_toolbox.brush(), &BrushTool::tipChanged, this, QOverload<>::of(&Canvas::update));
    connect(&m_toolbox, &Toolbox::chosen, this, &Canvas::refreshLook);
    for (Tool *tool : m_toolbox.tools())
        connect(tool, &Tool::marksChanged, this, QOverload<>::of(&Canvas::update));
    // While changes follow each other, both processors are theirs: what else is to come (exact
    // tiles, the stitch) waits until they rest.
    m_restTimer.setSingleShot(true);
    constexpr int kRestMs = 20; // more than a mouse takes between two moves
    m_restTimer.setInterval(kRestMs);
    connect(&m_restTimer, &QTimer::timeout, this, &Canvas::askForTiles);
    m_groundRest.setSingleShot(true);
    m_groundRest.setInterval(120);
    connect(&m_groundRest, &QTimer::timeout, this, &Canvas::findGround);
    m_stitchTimer.setSingleShot(true);
    m_stitchTimer.setInterval(120);
    connect(&m_stitchTimer, &QTimer::timeout, this, &Canvas::startStitch);
    connect(&m_tiles, &TileStore::failed, this, &Canvas::failed);
    connect(&m_tiles, &TileStore::tileReady, this, [this](const TileKey &key) {
        if (!m_glance.isNull() && !m_opens && isSharp())
            m_glance = {};
        if (isSharp())
            Q_EMIT sharpened();
        const PictureRect r = m_tiles.rectOf(key);
        const int l = key.level;
        if (l != m_transform.level(m_session.levels()->count()) && isSharp())
            return; // kept for later: nothing of it is seen
        refresh(toWidgetRect(PictureRect{r.x0 << l, r.y0 << l, r.x1 << l, r.y1 << l}));
    });
}

void Canvas::startTiles()
{
    m_tiles.reset({m_session.levels(),
                   shownTake(),
                   m_output,
                   {m_session.tintHueDeg(), m_pinned, false, nullptr}});
}

void Canvas::onPhotoChanged()
{
    startTiles();
    updateMount();
    m_stitch = {};
    for (Tool *tool : m_toolbox.tools())
        tool->reset();
    m_opens = false;
    viewMoved();
}

void Canvas::setGlance(const QImage &image, const QSize &photo)
{
    if (m_drag == Drag::Paint) // what is being painted is still the photo before
        return;
    m_glance = image;
    m_opens = !image.isNull();
    if (m_opens) {
        m_glanceView = m_transform;
        m_glanceView.setPicture({{}, photo.width(), photo.height()});
    }
    refresh(rect());
}

void Canvas::setOutput(std::shared_ptr<const OutputColour> output)
{
    m_output = std::move(output);
    if (m_session.hasPhoto()) {
        startTiles();
        updateMount();
    }
    refresh(rect());
}

void Canvas::onTakeChanged(const SeenChange &change)
{
    if (!m_session.hasPhoto())
        return;
    if (change.parts.geometry && shownPicture() != m_transform.picture()) {
        followPicture();
        return;
    }
    if (change.parts.finish && updateMount())
        viewMoved();
    m_groundRest.start();
    if (change.parts.geometry && !change.parts.ofPicture() && !change.parts.tones &&
        !change.parts.finish) { // a crop is drawn over what is seen
        update();
        return;
    }
    // Where another mask is shown from now on, or no longer, all of it is another picture.
    const bool showsOther = showsOtherMask();
    Rect dirty = showsOther == m_showsOther ? change.dirty : Rect{};
    m_showsOther = showsOther;
    std::shared_ptr<const Take> take = shownTake();
    if (const MaskedLine *line = m_session.masked(); line && !dirty.isEmpty()) {
        const Keep *keep = m_session.keep();
        const bool isDraft = keep && hasDraft(*keep) && m_toolbox.current().isBusy();
        dirty = isDraft ? reachedBy(*m_session.take(), draftOf(*keep), dirty,
                                    m_session.levels()->rectOf(0))
                        : reached(dirty, *line);
        if (isDraft) { // what is found round the edge follows when the pointer is let go
            m_drafted = united(m_drafted, dirty);
            take = std::make_shared<const Take>(
                withKeep(*take, keep->id, [](Keep &k) { k = draftOf(k); }));
        }
    }
    m_tiles.setTake(take, dirty);
    if (!dirty.isEmpty() && !m_original) {
        const int level = m_transform.level(m_session.levels()->count());
        if (shownView() != View::Original)
            m_tiles.renderNow(visibleTiles(shownView(), level), dirty);
        if (m_toolbox.current().isBusy())
            unpick(toWidgetRect(dirty));
        refresh(toWidgetRect(dirty));
    } else {
        renderSeen();
        refresh(rect());
    }
    updateStitchSoon();
}

Rect Canvas::reached(const Rect &touched, const MaskedLine &line) const
{
    return reachedBy(*m_session.take(), line, touched, m_session.levels()->rectOf(0));
}

void Canvas::settleDraft()
{
    const Rect drafted = std::exchange(m_drafted, Rect{});
    const Keep *keep = m_session.keep();
    if (drafted.isEmpty() || !keep || !m_session.hasPhoto())
        return;
    const Rect dirty = reached(drafted, *keep);
    m_tiles.setTake(shownTake(), dirty);
    refresh(dirty.isEmpty() ? rect() : toWidgetRect(dirty));
}

void Canvas::renderSeen()
{
    if (m_original)
        return;
    constexpr double kFrameShareNs = 2e6;
    const int count = m_session.levels()->count();
    const int exact = m_transform.level(count);
    int level = exact;
    std::vector<TileKey> tiles;
    double pixels = 0;
    for (;; ++level) {
        tiles = visibleTiles(shownView(), level);
        pixels = 0;
        for (const TileKey &key : tiles)
            pixels += double(m_tiles.rectOf(key).area());
        if (pixels * m_nsPerPixel <= kFrameShareNs || level + 1 >= count)
            break;
    }
    if (tiles.empty())
        return;
    QElapsedTimer timer;
    timer.start();
    m_tiles.renderWholeNow(tiles);
    m_nsPerPixel += 0.2 * (double(timer.nsecsElapsed()) / pixels - m_nsPerPixel);
    m_restTimer.start();
}

void Canvas::setSeen(const Seen &seen)
{
    if (m_seen == seen)
        return;
    const bool changesPanes = m_seen.sideBySide != seen.sideBySide;
    const bool changesKeeps = m_seen.showsOneKeep() || seen.showsOneKeep();
    m_seen = seen;
    if (changesKeeps && m_session.hasPhoto())
        m_tiles.setTake(shownTake(), {});
    if (changesPanes) {
        fitPanes();
        viewMoved();
    }
    refresh(rect());
    Q_EMIT seenChanged();
}

double Canvas::paneShift() const
{
    return m_seen.sideBySide && m_session.hasPhoto() ? width() / 2 : 0;
}

void Canvas::fitPanes()
{
    const QSize pane(m_seen.sideBySide ? width() / 2 : width(), height());
    m_transform.setCanvas(pane, devicePixelRatioF());
}

QPointF Canvas::onPane(const QPointF &position)
{
    if (m_drag == Drag::None)
        m_isInRightPane = paneShift() > 0 && position.x() >= paneShift();
    return m_isInRightPane ? position - QPointF(paneShift(), 0) : position;
}

void Canvas::onLineChanged()
{
    const bool showsOther = m_session.hasPhoto() && showsOtherMask();
    if (m_seen.showsOneKeep() || showsOther || m_showsOther)
        showAnew();
    m_showsOther = showsOther;
    updateStitchSoon();
}

void Canvas::setPinned(const Pinned &pinned, const QString &name, const QString &ownName)
{
    m_pinned = pinned;
    m_pinnedName = name;
    m_ownName = ownName;
    if (m_session.hasPhoto())
        m_tiles.setPinned(m_pinned);
    refresh(rect());
    Q_EMIT seenChanged();
}

void Canvas::showOriginal(bool shows)
{
    if (m_original == shows)
        return;
    m_original = shows;
    refresh(rect());
    Q_EMIT seenChanged();
}

void Canvas::setShowsStitch(bool shows)
{
    m_showsStitch = shows;
    updateStitchSoon();
    update();
}

void Canvas::setSurround(const QColor &colour)
{
    m_surround = colour;
    refresh(rect());
}

void Canvas::setHint(const QString &hint)
{
    if (m_hint == hint)
        return;
    m_hint = hint;
    update();
}

void Canvas::refresh(const QRect &part)
{
    QRegion stale(part);
    stale += part.translated(int(paneShift()), 0); // where the original's like of it lies
    m_frameStale += stale & rect();
    update(stale);
}

void Canvas::viewMoved()
{
    m_restTimer.stop();
    updateStitchSoon();
    refresh(rect());
    Q_EMIT viewChanged();
}

void Canvas::fit()
{
    m_transform.fit();
    viewMoved();
}

void Canvas::zoomTo(double scale)
{
    const QPointF at = m_pointerInside ? m_pointer : QPointF(width() / 2.0, height() / 2.0);
    m_transform.zoomTo(scale, at);
    viewMoved();
}

void Canvas::zoomBy(double factor)
{
    zoomTo(m_transform.scale() * factor);
}

void Canvas::restoreView(double scale, const QPointF &centre)
{
    m_transform.restore(scale, centre);
    viewMoved();
}

void Canvas::resizeEvent(QResizeEvent *)
{
    fitPanes();
    m_glanceView.setCanvas(size(), devicePixelRatioF());
    viewMoved();
}

PictureRect Canvas::wholeTile(const TileKey &key)
{
    const int side = kTileSize << key.level;
    return {key.tx * side, key.ty * side, (key.tx + 1) * side, (key.ty + 1) * side};
}

std::vector<View> Canvas::shownViews() const
{
    if (m_original)
        return {View::Original};
    if (m_seen.split || m_seen.sideBySide)
        return {shownView(), splitView()};
    return {shownView()};
}

std::vector<TileKey> Canvas::visibleTiles(View view, int level) const
{
    std::vector<TileKey> keys;
    const PictureRect area = m_transform.visible(level);
    if (area.isEmpty())
        return keys;
    for (int ty = area.y0 / kTileSize; ty <= (area.y1 - 1) / kTileSize; ++ty)
        for (int tx = area.x0 / kTileSize; tx <= (area.x1 - 1) / kTileSize; ++tx)
            keys.push_back({view, level, tx, ty});
    // From the pointer outwards.
    const PicturePoint at =
        m_transform.toPicture(m_pointerInside ? m_pointer : QPointF(width() / 2.0, height() / 2.0));
    const double side = double(kTileSize) * (1 << level);
    const auto distance = [&](const TileKey &k) {
        return std::hypot((k.tx + 0.5) * side - at.x, (k.ty + 0.5) * side - at.y);
    };
    std::sort(keys.begin(), keys.end(),
              [&](const TileKey &a, const TileKey &b) { return distance(a) < distance(b); });
    return keys;
}

void Canvas::askForTiles()
{
    if (m_restTimer.isActive())
        return;
    const int count = m_session.levels()->count();
    const int level = m_transform.level(count);
    std::vector<TileKey> wanted;
    for (const View view : shownViews()) {
        // With nothing at all to show yet, the coarsest level first: a picture in a few ms.
        const TileKey coarsest{view, count - 1, 0, 0};
        if (!m_tiles.find(coarsest))
            wanted.push_back(coarsest);
        const auto tiles = visibleTiles(view, level);
        wanted.insert(wanted.end(), tiles.begin(), tiles.end());
    }
    if (!m_toolbox.current().isBusy())
        for (const View view : shownViews())
            wanted.push_back({view, count - 1, 0, 0});
    m_tiles.want(wanted);
}

bool Canvas::isSharp() const
{
    const int level = m_transform.level(m_session.levels()->count());
    for (const View view : shownViews())
        for (const TileKey &key : visibleTiles(view, level))
            if (!m_tiles.isFresh(key))
                return false;
    return true;
}

bool Canvas::showsPicture()
{
    if (!m_glance.isNull())
        return true;
    if (!m_session.hasPhoto())
        return false;
    const int level = m_transform.level(m_session.levels()->count());
    for (const View view : shownViews())
        for (const TileKey &key : visibleTiles(view, level))
            if (!shownInstead(key))
                return false;
    return true;
}

bool Canvas::isSettled() const
{
    if (!m_session.hasPhoto())
        return true;
    if (!isSharp())
        return false;
    return !m_showsStitch || (!m_stitchRunning && !m_stitchWanted);
}

double Canvas::splitX() const
{
    const QRectF picture = m_transform.boxOf(m_transform.picture().rect());
    return picture.left() + m_seen.splitAt * picture.width();
}

bool Canvas::isOnSplitLine(const QPointF &position) const
{
    return m_seen.split && !m_original && m_session.hasPhoto() &&
           std::abs(position.x() - splitX()) <= 6;
}

void Canvas::updateStitchSoon()
{
    m_stitchWanted = true;
    if (!m_session.hasPhoto() || !m_showsStitch || m_stitchRunning)
        return;
    m_stitchTimer.start();
}

void Canvas::unpick(const QRect &part)
{
    if (m_stitch.isNull())
        return;
    QPainter painter(&m_stitch);
    painter.setCompositionMode(QPainter::CompositionMode_Clear);
    painter.fillRect(part, Qt::transparent);
}

std::optional<Keep> Canvas::stitchedKeep() const
{
    const MaskedLine *line = m_session.masked();
    if (!line || !line->on)
        return {};
    const Step *step = m_session.step();
    if (!step || !isMark(step->sign))
        return withMaskOf(*line);
    Keep marked; // what is marked has no edge in the mask
    marked.steps = {*step};
    marked.steps[0].sign = Sign::Add;
    marked.steps[0].insideOf = Step::kAnywhere;
    return marked;
}

void Canvas::startStitch()
{
    if (m_session.hasPhoto() && !isSharp()) { // the picture comes first
        m_stitchTimer.start();
        return;
    }
    m_stitchWanted = false;
    const std::optional<Keep> keep = stitchedKeep();
    if (!keep || !m_showsStitch) {
        m_stitch = {};
        m_edge.reset();
        update();
        return;
    }
    m_stitchRunning = true;
    m_jobs.start(
        {},
        [keep = *keep, view = m_transform, levels = m_session.levels(), size = size(),
         ratio = devicePixelRatioF(), near = m_transform.toPhoto(m_pointer),
         stages = m_tiles.stages()](const Run &) {
            return drawStitch(*levels, keep, view, size, ratio, near, *stages);
        },
        [this, view = m_transform, guard = QPointer<Canvas>(this)](const Stitch &stitch) {
            if (!guard)
                return;
            m_stitchRunning = false;
            m_stitch = stitch.image;
            m_edge = stitch.edge;
            m_stitchView = view;
            Q_EMIT edgeFound();
            update();
            if (m_stitchWanted)
                updateStitchSoon();
        });
}

} // namespace buttonhole::app
