#include "light/patch.h"

#include "base/memo.h"
#include "colour/pixel_rows.h"

namespace buttonhole
{

namespace
{

/// Runs through the rows of `area` in runs that the row functions take.
template <class F>
void forRuns(const Rect &area, F &&body)
{
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; x += kRowRun)
            body(x, y, std::min(kRowRun, area.x1 - x));
}

/// Level 0 of a patch over what is there.
void layPatch(const Patch &patch, float strength, LightTile &out)
{
    const Rect area = intersected(patch.where.boundsOfOtherThan(0), out.area());
    std::array<uint16_t, kRowRun> where;
    std::array<uint16_t, kRowRun> roots;
    std::array<float, kRowRun> light;
    forRuns(area, [&](int x, int y, int n) {
        const Rect run{x, y, x + n, y + 1};
        patch.where.read(run, where.data(), where.size());
        if (std::all_of(where.begin(), where.begin() + n, [](uint16_t v) { return v == 0; }))
            return;
        for (int c = 0; c < 3; ++c) {
            patch.roots[size_t(c)].read(run, roots.data(), roots.size());
            linearOfRoots(roots.data(), n, light.data());
            float *to = out.at(c, x, y);
            for (int i = 0; i < n; ++i) {
                const auto at = size_t(i);
                const float share = strength * float(where[at]) / 65535.0F;
                to[i] = share == 1 ? light[at] : to[i] + share * (light[at] - to[i]);
            }
        }
    });
}

/// The pixels of a level that a part of the photo lies in.
Rect touchedAt(const Rect &area, int level)
{
    const int more = (1 << level) - 1;
    return {area.x0 >> level, area.y0 >> level, (area.x1 + more) >> level,
            (area.y1 + more) >> level};
}

/// Half the sides: means of two by two, at odd borders of what there is.
LightTile halved(const LightTile &from)
{
    const Rect &was = from.area();
    LightTile out(touchedAt(was, 1));
    const Rect &area = out.area();
    for (int c = 0; c < 3; ++c)
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x) {
                const int x1 = std::min(2 * x + 1, was.x1 - 1);
                const int y1 = std::min(2 * y + 1, was.y1 - 1);
                *out.at(c, x, y) = (*from.at(c, 2 * x, 2 * y) + *from.at(c, x1, 2 * y) +
                                    *from.at(c, 2 * x, y1) + *from.at(c, x1, y1)) /
                                   4;
            }
    return out;
}

/// What a coarser level shows round a patch.
struct Shown {
    LightTile light;
    std::vector<bool> isTouched; ///< by the patch; row by row
};

class PatchedSource final : public ChangedSource
{
public:
    PatchedSource(SourceRef before, std::shared_ptr<const Patch> patch, float strength)
        : ChangedSource(std::move(before)), m_patch(std::move(patch)), m_strength(strength),
          m_content(joinedContent(joinedContent(in().content(), m_patch->content), {strength}))
    {
    }
    uint64_t content() const override { return m_content; }

    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        if (auto done = in().read(level, out, run); !done)
            return done;
        const Rect bounds = m_patch->where.boundsOfOtherThan(0);
        const Rect shared = intersected(touchedAt(bounds, level), out.area());
        if (bounds.isEmpty() || shared.isEmpty())
            return {};
        if (level == 0) {
            layPatch(*m_patch, m_strength, out);
            return {};
        }
        const auto shown = shownAt(level, run);
        if (!shown)
            return shown.error();
        const Rect &all = (*shown)->light.area();
        for (int y = shared.y0; y < shared.y1; ++y)
            for (int x = shared.x0; x < shared.x1; ++x)
                if ((*shown)
                        ->isTouched[size_t(y - all.y0) * size_t(all.width()) + size_t(x - all.x0)])
                    for (int c = 0; c < 3; ++c)
                        *out.at(c, x, y) = *(*shown)->light.at(c, x, y);
        return {};
    }

private:
    /// Made once for all tiles that see it.
    Result<std::shared_ptr<const Shown>> shownAt(int level, const Run &run) const
    {
        static Memo memo(64);
        Error problem{ErrorKind::Cancelled, {}, {}};
        const auto found =
            memo.find(joinedContent(m_content, uint64_t(level)), [&]() -> Memo::Value {
                auto made = makeShown(level, run);
                if (made)
                    return *made;
                problem = made.error();
                return nullptr;
            });
        if (!found)
            return problem;
        return std::static_pointer_cast<const Shown>(found);
    }

    Result<std::shared_ptr<const Shown>> makeShown(int level, const Run &run) const
    {
        const Rect cells = touchedAt(m_patch->where.boundsOfOtherThan(0), level);
        LightTile light(intersected(
            {cells.x0 << level, cells.y0 << level, cells.x1 << level, cells.y1 << level},
            in().rectOf(0)));
        if (auto done = in().read(0, light, run); !done)
            return done.error();
        layPatch(*m_patch, m_strength, light);
        for (int i = 0; i < level; ++i)
            light = halved(light);
        auto out = std::make_shared<Shown>();
        std::vector<uint16_t> covered(cells.area());
        m_patch->where.readReduced(level, cells, covered.data(), size_t(cells.width()));
        out->isTouched.reserve(covered.size());
        for (const uint16_t v : covered)
            out->isTouched.push_back(v > 0);
        out->light = std::move(light);
        return std::shared_ptr<const Shown>(out);
    }

    std::shared_ptr<const Patch> m_patch;
    float m_strength;
    uint64_t m_content;
};

} // namespace

std::shared_ptr<const Patch> makePatch(const Rect &photo, const LightTile &light,
                                       const std::vector<uint8_t> &where)
{
    auto out = std::make_shared<Patch>();
    const Rect &area = light.area();
    const size_t stride = size_t(area.width()) + kRowRun;
    std::vector<uint16_t> values(stride * size_t(area.height()));
    const auto fill = [&](MaskPlane &plane) {
        plane = MaskPlane(photo.width(), photo.height());
        plane.write(area, values.data(), stride);
        plane.compact(area);
    };
    for (int y = 0; y < area.height(); ++y)
        for (int x = 0; x < area.width(); ++x)
            values[size_t(y) * stride + size_t(x)] =
                where[size_t(y) * size_t(area.width()) + size_t(x)] ? 65535 : 0;
    fill(out->where);
    for (int c = 0; c < 3; ++c) {
        forRuns(area, [&](int x, int y, int n) {
            rootRow(light.at(c, x, y), n,
                    values.data() + size_t(y - area.y0) * stride + (x - area.x0));
        });
        fill(out->roots[size_t(c)]);
    }
    return out;
}

SourceRef patched(SourceRef in, std::shared_ptr<const Patch> patch, float strength)
{
    return std::make_shared<const PatchedSource>(std::move(in), std::move(patch), strength);
}

} // namespace buttonhole
