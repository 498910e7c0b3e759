#include "prepare/neutral_pick.h"

#include "commands/move_words.h"
#include "io/lab_row.h"
#include "light/photo_light.h"

namespace buttonhole::app
{

namespace
{

/// The mean light of a few pixels: noise has a colour of its own.
std::optional<Vector3> lightAround(const PhotoLevels &levels, const QPointF &photo)
{
    constexpr int kRound = 3;
    const int x = int(std::floor(photo.x()));
    const int y = int(std::floor(photo.y()));
    const Rect area = intersected(levels.photo().rect(),
                                  {x - kRound, y - kRound, x + kRound + 1, y + kRound + 1});
    if (area.isEmpty())
        return std::nullopt;
    Vector3 sum{};
    LabRow row;
    for (int at = area.y0; at < area.y1; ++at) {
        readLightRow(levels, 0, area.x0, at, area.width(), row.L, row.a, row.b);
        for (int i = 0; i < area.width(); ++i) {
            const Vector3 own{double(row.L[i]), double(row.a[i]), double(row.b[i])};
            for (size_t c = 0; c < 3; ++c)
                sum[c] += own[c] / double(area.area());
        }
    }
    return sum;
}

} // namespace

void NeutralPick::setActive(bool active)
{
    if (m_isActive == active)
        return;
    drop();
    m_isActive = active;
    Q_EMIT changed();
}

void NeutralPick::press(const QPointF &at, const ViewTransform &view)
{
    const auto light = lightAround(*m_session.levels(), view.toPhoto(at));
    if (!light)
        return;
    Take take = m_session.work().take();
    using Light = NumberAdjustment<PhotoLight>;
    const auto now =
        std::static_pointer_cast<const Light>(preparedBy(take, PhotoLight::kKind))->values();
    const auto made = neutralisedAt(now, *light, m_session.levels()->colour());
    m_session.showLive(withPrepared(std::move(take), std::make_shared<const Light>(made)), {});
    m_hasPicked = true;
}

void NeutralPick::release()
{
    if (!m_hasPicked)
        return;
    m_hasPicked = false;
    m_session.commitLive(ofPrepare(tr("Neutral")));
    setActive(false);
}

bool NeutralPick::drop()
{
    if (std::exchange(m_hasPicked, false)) {
        m_session.dropLive({});
        return true;
    }
    if (!std::exchange(m_isActive, false))
        return false;
    Q_EMIT changed();
    return true;
}

} // namespace buttonhole::app
