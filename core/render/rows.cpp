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
void takeCodes(const RowBuffer &from, RowBuffer &buffer, int n, const Where &where)
{
    for (int i = 0; i < n; ++i)
        if (where(i))
            for (int c = 0; c < 3; ++c)
                buffer.out[c][i] = from.out[c][i];
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

    void photoRow(const RowJob &job, RowBuffer &buffer) const override
    {
        const T *rgb = codesOf(job);
        if (isSameSpace()) {
            for (int i = 0; i < job.n; ++i)
                for (int c = 0; c < 3; ++c)
                    buffer.out[c][i] = ownCode(rgb[3 * i + c]);
            return;
        }
        RowJob plain = job;
        plain.prepared = nullptr;
        outputLightRow(plain, false, buffer);
        encode(buffer, job.n);
    }

    void lightRow(const RowJob &job, bool ofKeeps, RowBuffer &buffer) const override
    {
        float *to[] = {buffer.r, buffer.g, buffer.b};
        if (job.prepared)
            for (int c = 0; c < 3; ++c)
                std::copy_n(job.prepared->at(c, job.place.x, job.place.y), job.n, to[c]);
        else
            decodeRow(colour(), codesOf(job), job.n, buffer.r, buffer.g, buffer.b);
        if (!ofKeeps || !job.owners)
            return;
        for (int i = 0; i < job.n; ++i)
            if (const LightTile *kept = keptAt(job, i))
                for (int c = 0; c < 3; ++c)
                    to[c][i] = *kept->at(c, job.place.x + i, job.place.y);
    }

    void resultRow(const RowJob &job, RowBuffer &buffer) const override
    {
        if (!m_take.greyOn)
            return ungreyedRow(job, buffer);
        const auto [least, most] = range(job);
        if (least == 65535 && !tonesKeeps())
            return colourRow(job, buffer);
        greyRow(job, buffer);
        if (m_mixer.isTinted())
            return tintedResultRow(job, most == 65535, buffer);
        encodeGrey(buffer, job.n);
        if (most == 0)
            return;
        // Only pixels that are partly coloured take the blend's codes: each pixel then comes out
        // the same whatever its neighbours in the run are.
        RowBuffer mixed;
        blendedRow(job, buffer.y, mixed);
        encode(mixed, job.n);
        takeCodes(mixed, buffer, job.n,
                  [&](int i) { return job.mask[i] != 0 && job.mask[i] != 65535; });
        if (most == 65535)
            takeFullyKept(job, buffer);
    }

    void resultLightRow(const RowJob &job, RowBuffer &buffer) const override
    {
        if (!m_take.greyOn) {
            ungreyedLightRow(job, buffer);
            return;
        }
        greyRow(job, buffer);
        const auto isAt = [](uint16_t share) { return [share](uint16_t m) { return m == share; }; };
        if (!m_mixer.isTinted() && std::all_of(job.mask, job.mask + job.n, isAt(0))) {
            for (float *row : {buffer.r, buffer.g, buffer.b})
                std::copy_n(buffer.y, job.n, row);
            return;
        }
        if (m_mixer.isTinted()) {
            lightRow(job, true, buffer);
            tintedBlendRow(m_tinted, buffer.y, job.mask, job.n, buffer.r, buffer.g, buffer.b);
        } else {
            blendedRow(job, buffer.y, buffer);
            for (int i = 0; i < job.n; ++i)
                if (job.mask[i] == 0)
                    buffer.r[i] = buffer.g[i] = buffer.b[i] = buffer.y[i];
        }
        if (tonesKeeps() || std::none_of(job.mask, job.mask + job.n, isAt(65535)))
            return;
        RowBuffer full; // the blend's roundings are not the photo's colour
        outputLightRow(job, true, full);
        for (int i = 0; i < job.n; ++i)
            if (job.mask[i] == 65535) {
                buffer.r[i] = full.r[i];
                buffer.g[i] = full.g[i];
                buffer.b[i] = full.b[i];
            }
    }

    void greyRoots(const RowJob &job, RowBuffer &buffer) const override
    {
        mixGrey(job, buffer);
        rootRow(buffer.y, job.n, buffer.roots);
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
    void colourRow(const RowJob &job, RowBuffer &buffer) const
    {
        photoRow(job, buffer);
        const bool isKept = job.owners && hasKept(job);
        if (!isKept && !job.prepared)
            return;
        RowBuffer changed;
        RowBuffer plain;
        outputLightRow(job, true, changed);
        RowJob untouched = job;
        untouched.prepared = nullptr;
        outputLightRow(untouched, false, plain);
        encode(changed, job.n);
        takeCodes(changed, buffer, job.n, [&](int i) {
            return changed.r[i] != plain.r[i] || changed.g[i] != plain.g[i] ||
                   changed.b[i] != plain.b[i];
        });
    }

    /// With Grey off: the photo, and over it, by the mask, what keeps change.
    void ungreyedLightRow(const RowJob &job, RowBuffer &buffer) const
    {
        outputLightRow(job, false, buffer);
        if (!job.owners || !hasKept(job))
            return;
        RowBuffer kept;
        outputLightRow(job, true, kept);
        for (int i = 0; i < job.n; ++i) {
            const float share = float(job.mask[i]) / 65535.0F;
            buffer.r[i] += share * (kept.r[i] - buffer.r[i]);
            buffer.g[i] += share * (kept.g[i] - buffer.g[i]);
            buffer.b[i] += share * (kept.b[i] - buffer.b[i]);
        }
    }

    void ungreyedRow(const RowJob &job, RowBuffer &buffer) const
    {
        RowJob plain = job;
        plain.owners = nullptr;
        colourRow(plain, buffer);
        if (!job.owners || !hasKept(job))
            return;
        RowBuffer mixed;
        ungreyedLightRow(job, mixed);
        encode(mixed, job.n);
        takeCodes(mixed, buffer, job.n, [&](int i) { return keptAt(job, i) != nullptr; });
    }

    void mixGrey(const RowJob &job, RowBuffer &buffer) const
    {
        const LightTile *light = job.prepared;
        const auto [x, y, level] = job.place;
        if (light)
            m_mixer.greyRow(light->at(0, x, y), light->at(1, x, y), light->at(2, x, y), job.n,
                            job.place, buffer.y);
        else
            m_mixer.greyRow(codesOf(job), job.n, job.place, buffer.y);
    }

    /// The grey as linear light, at 8 bits by way of its roots: what is cached is then what would
    /// be computed.
    void greyRow(const RowJob &job, RowBuffer &buffer) const
    {
        if (!job.roots)
            mixGrey(job, buffer);
        if (bits() != 8)
            return;
        if (job.roots)
            std::copy_n(job.roots, job.n, buffer.roots);
        else
            rootRow(buffer.y, job.n, buffer.roots);
        linearOfRoots(buffer.roots, job.n, buffer.y);
    }

    void encodeGrey(RowBuffer &buffer, int n) const
    {
        const OutputColour &to = output();
        for (size_t c = 0; c < 3; ++c) {
            if (c > 0 && to.curvesAreEqual)
                std::copy_n(buffer.out[0], n, buffer.out[c]);
            else if (bits() == 8)
                encodeRoots(to.profile, c, buffer.roots, n, buffer.out[c]);
            else
                encodeRow(to.profile, c, bits(), buffer.y, n, buffer.out[c]);
        }
    }

    /// Grey and colour by the mask; `y` may be of the same row.
    void blendedRow(const RowJob &job, const float *y, RowBuffer &mixed) const
    {
        lightRow(job, true, mixed);
        blendRow(colour().toLms.data(), output().fromLms.data(), y, job.mask, job.n, mixed.r,
                 mixed.g, mixed.b);
    }

    /// Toning and colour left, and the blend with what is kept, in one.
    void tintedResultRow(const RowJob &job, bool hasFull, RowBuffer &buffer) const
    {
        lightRow(job, true, buffer);
        tintedBlendRow(m_tinted, buffer.y, job.mask, job.n, buffer.r, buffer.g, buffer.b);
        encode(buffer, job.n);
        if (hasFull && !tonesKeeps())
            takeFullyKept(job, buffer);
    }

    void takeFullyKept(const RowJob &job, RowBuffer &buffer) const
    {
        RowBuffer full;
        colourRow(job, full);
        takeCodes(full, buffer, job.n, [&](int i) { return job.mask[i] == 65535; });
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

void Rows::outputLightRow(const RowJob &job, bool ofKeeps, RowBuffer &buffer) const
{
    lightRow(job, ofKeeps, buffer);
    if (!m_isSameSpace)
        matrixRow(m_toOutput.data(), job.n, buffer.r, buffer.g, buffer.b);
}

void Rows::encode(RowBuffer &buffer, int n) const
{
    encodeRow(m_output.profile, 0, m_bits, buffer.r, n, buffer.out[0]);
    encodeRow(m_output.profile, 1, m_bits, buffer.g, n, buffer.out[1]);
    encodeRow(m_output.profile, 2, m_bits, buffer.b, n, buffer.out[2]);
}

void Rows::encode(const LightTile &light, int x, int y, int n, RowBuffer &buffer) const
{
    for (size_t c = 0; c < 3; ++c)
        if (c > 0 && light.isNeutral() && m_output.curvesAreEqual)
            std::copy_n(buffer.out[0], n, buffer.out[c]);
        else
            encodeRow(m_output.profile, c, m_bits, light.at(int(c), x, y), n, buffer.out[c]);
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
