#include "render/rows.h"

#include "colour/oklab.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

std::array<float, 3> tintOf(double hueDeg, const Profile &output)
{
    const double angle = hueDeg * 3.14159265358979323846 / 180.0;
    const Vector3 rgb =
        inverse(output.toXyz()) * toXyz({0.70, 0.19 * std::cos(angle), 0.19 * std::sin(angle)});
    return {float(std::clamp(rgb[0], 0.0, 1.0)), float(std::clamp(rgb[1], 0.0, 1.0)),
            float(std::clamp(rgb[2], 0.0, 1.0))};
}

template <class Where>
void takeCodes(const RowCodes &from, RowCodes &run, int n, const Where &where)
{
    for (int i = 0; i < n; ++i)
        if (where(i))
            for (int c = 0; c < 3; ++c)
                run.out[c][i] = from.out[c][i];
}

/// The tile of the keep that owns pixel i; null: it has none, or not there.
const LightTile *keptAt(const RowJob &job, int i)
{
    if (!job.owners || job.owners[i] == 0)
        return nullptr;
    const auto &tile = (*job.kept)[job.owners[i] - 1U];
    return tile ? &*tile : nullptr;
}

bool hasKept(const RowJob &job)
{
    for (int i = 0; i < job.n; ++i)
        if (keptAt(job, i))
            return true;
    return false;
}

/// Rows of a photo of T (8 or 16 bits a channel).
template <class T>
class RowsOf final : public Rows
{
public:
    RowsOf(const PhotoLevels &levels, const Take &take, const GreyMixer &mixer,
           const OutputColour &output, int bits, double tintHueDeg)
        : Rows(levels.colour(), output, bits, tintHueDeg), m_take(take), m_mixer(mixer),
          m_tinted(mixer.tintedBlend(output))
    {
    }

    void photoRow(const RowJob &job, RowCodes &run) const override
    {
        const T *rgb = codesOf(job);
        if (isSameSpace()) {
            for (int i = 0; i < job.n; ++i)
                for (int c = 0; c < 3; ++c)
                    run.out[c][i] = ownCode(rgb[3 * i + c]);
            return;
        }
        RowJob plain = job;
        plain.prepared = nullptr;
        outputLightRow(plain, false, run);
        encode(run, job.n);
    }

    void lightRow(const RowJob &job, bool ofKeeps, RowCodes &run) const override
    {
        float *to[] = {run.r, run.g, run.b};
        if (job.prepared)
            for (int c = 0; c < 3; ++c)
                std::copy_n(job.prepared->at(c, job.place.x, job.place.y), job.n, to[c]);
        else
            decodeRow(colour(), codesOf(job), job.n, run.r, run.g, run.b);
        if (!ofKeeps || !job.owners)
            return;
        for (int i = 0; i < job.n; ++i)
            if (const LightTile *kept = keptAt(job, i))
                for (int c = 0; c < 3; ++c)
                    to[c][i] = *kept->at(c, job.place.x + i, job.place.y);
    }

    void resultRow(const RowJob &job, RowCodes &run) const override
    {
        if (!m_take.greyOn)
            return ungreyedRow(job, run);
        const auto [least, most] = range(job);
        if (least == 65535 && !tonesKeeps())
            return colourRow(job, run);
        greyRow(job, run);
        if (m_mixer.isTinted())
            return tintedResultRow(job, most == 65535, run);
        encodeGrey(run, job.n);
        if (most == 0)
            return;
        // Only pixels that are partly coloured take the blend's codes: each pixel then comes out
        // the same whatever its neighbours in the run are.
        RowCodes mixed;
        blendedRow(job, run.y, mixed);
        encode(mixed, job.n);
        takeCodes(mixed, run, job.n,
                  [&](int i) { return job.mask[i] != 0 && job.mask[i] != 65535; });
        if (most == 65535)
            takeFullyKept(job, run);
    }

    void resultLightRow(const RowJob &job, RowCodes &run) const override
    {
        if (!m_take.greyOn) {
            ungreyedLightRow(job, run);
            return;
        }
        greyRow(job, run);
        if (m_mixer.isTinted()) {
            lightRow(job, true, run);
            tintedBlendRow(m_tinted, run.y, job.mask, job.n, run.r, run.g, run.b);
        } else {
            blendedRow(job, run.y, run);
        }
        if (tonesKeeps())
            return;
        RowCodes full; // the blend's roundings are not the photo's colour
        outputLightRow(job, true, full);
        for (int i = 0; i < job.n; ++i)
            if (job.mask[i] == 65535) {
                run.r[i] = full.r[i];
                run.g[i] = full.g[i];
                run.b[i] = full.b[i];
            }
    }

    void greyRoots(const RowJob &job, RowCodes &run) const override
    {
        mixGrey(job, run);
        rootRow(run.y, job.n, run.roots);
    }

private:
    static const T *codesOf(const RowJob &job) { return static_cast<const T *>(job.codes); }

    uint16_t ownCode(T code) const
    {
        if constexpr (sizeof(T) == 1)
            return bits() > 8 ? uint16_t(code * 257) : code;
        else
            return bits() > 8 ? code : uint16_t((uint32_t(code) * 255U + 32767U) / 65535U);
    }

    bool tonesKeeps() const { return m_take.grey.toning.overKeeps && m_mixer.isTinted(); }

    static std::pair<uint16_t, uint16_t> range(const RowJob &job)
    {
        uint16_t least = 65535;
        uint16_t most = 0;
        for (int i = 0; i < job.n; ++i) { // unlike std::minmax_element, this becomes SIMD
            least = std::min(least, job.mask[i]);
            most = std::max(most, job.mask[i]);
        }
        return {least, most};
    }

    /// What is kept: the photo's own codes wherever nothing changed its light.
    void colourRow(const RowJob &job, RowCodes &run) const
    {
        photoRow(job, run);
        const bool isKept = job.owners && hasKept(job);
        if (!isKept && !job.prepared)
            return;
        RowCodes changed;
        RowCodes plain;
        outputLightRow(job, true, changed);
        RowJob untouched = job;
        untouched.prepared = nullptr;
        outputLightRow(untouched, false, plain);
        encode(changed, job.n);
        takeCodes(changed, run, job.n, [&](int i) {
            return changed.r[i] != plain.r[i] || changed.g[i] != plain.g[i] ||
                   changed.b[i] != plain.b[i];
        });
    }

    /// With Grey off: the photo, and over it, by the mask, what keeps change.
    void ungreyedLightRow(const RowJob &job, RowCodes &run) const
    {
        outputLightRow(job, false, run);
        if (!job.owners || !hasKept(job))
            return;
        RowCodes kept;
        outputLightRow(job, true, kept);
        for (int i = 0; i < job.n; ++i) {
            const float share = float(job.mask[i]) / 65535.0F;
            run.r[i] += share * (kept.r[i] - run.r[i]);
            run.g[i] += share * (kept.g[i] - run.g[i]);
            run.b[i] += share * (kept.b[i] - run.b[i]);
        }
    }

    void ungreyedRow(const RowJob &job, RowCodes &run) const
    {
        RowJob plain = job;
        plain.owners = nullptr;
        colourRow(plain, run);
        if (!job.owners || !hasKept(job))
            return;
        RowCodes mixed;
        ungreyedLightRow(job, mixed);
        encode(mixed, job.n);
        takeCodes(mixed, run, job.n, [&](int i) { return keptAt(job, i) != nullptr; });
    }

    void mixGrey(const RowJob &job, RowCodes &run) const
    {
        const LightTile *light = job.prepared;
        const auto [x, y, level] = job.place;
        if (light)
            m_mixer.greyRow(light->at(0, x, y), light->at(1, x, y), light->at(2, x, y), job.n,
                            job.place, run.y);
        else
            m_mixer.greyRow(codesOf(job), job.n, job.place, run.y);
    }

    /// The grey as linear light, at 8 bits by way of its roots: what is cached is then what would
    /// be computed.
    void greyRow(const RowJob &job, RowCodes &run) const
    {
        if (!job.roots)
            mixGrey(job, run);
        if (bits() != 8)
            return;
        if (job.roots)
            std::copy_n(job.roots, job.n, run.roots);
        else
            rootRow(run.y, job.n, run.roots);
        linearOfRoots(run.roots, job.n, run.y);
    }

    void encodeGrey(RowCodes &run, int n) const
    {
        const OutputColour &to = output();
        for (size_t c = 0; c < 3; ++c) {
            if (c > 0 && to.curvesAreEqual)
                std::copy_n(run.out[0], n, run.out[c]);
            else if (bits() == 8)
                encodeRoots(to.profile, c, run.roots, n, run.out[c]);
            else
                encodeRow(to.profile, c, bits(), run.y, n, run.out[c]);
        }
    }

    /// Grey and colour by the mask; `y` may be of the same row.
    void blendedRow(const RowJob &job, const float *y, RowCodes &mixed) const
    {
        lightRow(job, true, mixed);
        blendRow(colour().toLms.data(), output().fromLms.data(), y, job.mask, job.n, mixed.r,
                 mixed.g, mixed.b);
    }

    /// Toning and colour left, and the blend with what is kept, in one.
    void tintedResultRow(const RowJob &job, bool hasFull, RowCodes &run) const
    {
        lightRow(job, true, run);
        tintedBlendRow(m_tinted, run.y, job.mask, job.n, run.r, run.g, run.b);
        encode(run, job.n);
        if (hasFull && !tonesKeeps())
            takeFullyKept(job, run);
    }

    void takeFullyKept(const RowJob &job, RowCodes &run) const
    {
        RowCodes full;
        colourRow(job, full);
        takeCodes(full, run, job.n, [&](int i) { return job.mask[i] == 65535; });
    }

    const Take &m_take;
    const GreyMixer &m_mixer;
    TintedBlend m_tinted;
};

} // namespace

Rows::Rows(const SourceColour &colour, const OutputColour &output, int bits, double tintHueDeg)
    : m_colour(colour), m_output(output), m_bits(bits),
      m_isSameSpace(colour.profile.isSameSpaceAs(output.profile)),
      m_tint(tintOf(tintHueDeg, output.profile))
{
    if (m_isSameSpace)
        return;
    const Matrix3 m =
        withWhite(inverse(output.profile.toXyz()) * colour.profile.toXyz(), {1, 1, 1}, {1, 1, 1});
    for (size_t i = 0; i < 9; ++i)
        m_toOutput[i] = float(m[i / 3][i % 3]);
}

void Rows::outputLightRow(const RowJob &job, bool ofKeeps, RowCodes &run) const
{
    lightRow(job, ofKeeps, run);
    if (!m_isSameSpace)
        matrixRow(m_toOutput.data(), job.n, run.r, run.g, run.b);
}

void Rows::encode(RowCodes &run, int n) const
{
    encodeRow(m_output.profile, 0, m_bits, run.r, n, run.out[0]);
    encodeRow(m_output.profile, 1, m_bits, run.g, n, run.out[1]);
    encodeRow(m_output.profile, 2, m_bits, run.b, n, run.out[2]);
}

std::unique_ptr<const Rows> makeRows(const PhotoLevels &levels, const Take &take,
                                     const GreyMixer &mixer, const OutputColour &output, int bits,
                                     double tintHueDeg)
{
    return std::visit(
        [&]<class T>(const Image<T> &) -> std::unique_ptr<const Rows> {
            return std::make_unique<const RowsOf<T>>(levels, take, mixer, output, bits, tintHueDeg);
        },
        levels.level(0));
}

} // namespace buttonhole
