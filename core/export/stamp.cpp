#include "export/stamp.h"

#include "base/memo.h"
#include "colour/srgb_curve.h"
#include "export/mount.h"

#include <cmath>
#include <numbers>

namespace buttonhole
{

namespace
{

constexpr float kMostChroma = 0.15F;
constexpr float kLightInk = 0.97F; ///< OKLab L
constexpr float kDarkInk = 0.2F;
constexpr float kLightGround = 0.62F; ///< from there on dark ink stands out more

Memo &drawnMemo()
{
    static Memo memo(6);
    return memo;
}

} // namespace

/// It at some scale.
struct Stamp::Drawn {
    /// @param output where it keeps its own colours
    Drawn(const Image<uint8_t> &drawn, double drawnScale, const OutputColour *output)
        : width(drawn.width()), height(drawn.height()), scale(drawnScale), pixels(drawn.count())
    {
        for (size_t i = 3; i < pixels.size(); i += 4)
            pixels[i] = float(drawn.row(0)[i]) / 255;
        if (output)
            takeColours(drawn.row(0), *output);
    }

    int width;
    int height;
    double scale; ///< px for a unit of the drawing
    std::vector<float>
        pixels; ///< red, green and blue, codes of the output times alpha, and alpha; 0..1

    const float *at(int x, int y) const
    {
        static constexpr float kNothing[4] = {0, 0, 0, 0};
        const bool isInside = x >= 0 && y >= 0 && x < width && y < height;
        return isInside ? pixels.data() + (ptrdiff_t(y) * width + x) * 4 : kNothing;
    }

private:
    void takeColours(const uint8_t *from, const OutputColour &output)
    {
        const LightSpace srgb(Profile::srgb());
        const size_t count = pixels.size() / 4;
        for (size_t begin = 0; begin < count; begin += kRowRun) {
            const size_t n = std::min<size_t>(kRowRun, count - begin);
            float *own = pixels.data() + begin * 4;
            float rows[3][kRowRun] = {};
            for (size_t i = 0; i < n; ++i)
                for (size_t c = 0; c < 3; ++c) {
                    const float alpha = std::max(own[i * 4 + 3], 1e-6F);
                    const float code = float(from[(begin + i) * 4 + c]) / 255;
                    rows[c][i] = srgbLinear(std::min(1.0F, code / alpha));
                }
            labRow(srgb.toLms.data(), int(n), rows[0], rows[1], rows[2]);
            linearOfLabRow(output.fromLms.data(), int(n), rows[0], rows[1], rows[2]);
            for (size_t c = 0; c < 3; ++c) {
                uint16_t codes[kRowRun];
                encodeRow(output.profile, c, 16, rows[c], int(n), codes);
                for (size_t i = 0; i < n; ++i)
                    own[i * 4 + c] = float(codes[i]) / 65535 * own[i * 4 + 3];
            }
        }
    }
};

void encodeColour(const OutputColour &output, float L, float chroma, float hueDeg, float *codes)
{
    const float hue = hueDeg * std::numbers::pi_v<float> / 180;
    float rows[3][kRowRun] = {};
    rows[0][0] = L;
    rows[1][0] = chroma * std::cos(hue);
    rows[2][0] = chroma * std::sin(hue);
    linearOfLabRow(output.fromLms.data(), 1, rows[0], rows[1], rows[2]);
    for (size_t c = 0; c < 3; ++c) {
        uint16_t code[kRowRun];
        encodeRow(output.profile, c, 16, rows[c], 1, code);
        codes[c] = float(code[0]) / 65535;
    }
}

Stamp::Stamp(const Signature &signature, std::shared_ptr<const Drawing> drawing, int left, int top,
             int width, int height, const OutputColour &output)
    : m_place(signature.place()), m_words(signature.wordsContent()), m_drawing(std::move(drawing)),
      m_output(output), m_lightness(m_place.lightness)
{
    const double edge = std::min(width, height);
    const double inset = double(m_place.inset) * edge;
    const double most = width - 2 * std::max(0.0, inset);
    m_scale = std::min(double(m_place.size) * edge / std::max(m_drawing->lineHeight(), 1e-6),
                       most / std::max(m_drawing->width(), 1e-6));
    const auto px = [&](double units) { return std::max(1, int(std::ceil(units * m_scale))); };
    const int w = px(m_drawing->width());
    const int h = px(m_drawing->height());
    const auto place = [&](double share, int begin, int length, int own) {
        return begin + int(std::lround(inset + share * (length - own - 2 * inset)));
    };
    m_x0 = place(double(m_place.across), left, width, w);
    m_y0 = place(double(m_place.down), top, height, h);
    m_x1 = m_x0 + w;
    m_y1 = m_y0 + h;
    encodeColour(m_output, m_lightness, kMostChroma * m_place.colour, m_place.hueDeg, m_ink);
}

bool Stamp::goesByGround() const
{
    return !hasOwnColours() && m_place.byGround >= 0.5F;
}

void Stamp::setGround(float lightness)
{
    m_lightness = lightness > kLightGround ? kDarkInk : kLightInk;
    encodeColour(m_output, m_lightness, kMostChroma * m_place.colour, m_place.hueDeg, m_ink);
}

bool Stamp::hasOwnColours() const
{
    return m_drawing->hasColours() && m_place.ownColours >= 0.5F;
}

uint64_t Stamp::contentAt(double step) const
{
    const double scale = m_scale / std::max(step, 1.0); // enlarged, it shows the px that leave
    return joinedContent(joinedContent(m_words, std::bit_cast<uint64_t>(scale)),
                         hasOwnColours() ? m_output.content : 0);
}

Result<std::shared_ptr<const Stamp::Drawn>> Stamp::drawnAt(double step) const
{
    Error problem{ErrorKind::Damaged, "signature", {}};
    const auto found = drawnMemo().find(contentAt(step), [&]() -> Memo::Value {
        const double scale = m_scale / std::max(step, 1.0);
        const auto drawn = m_drawing->draw(scale);
        if (!drawn) {
            problem = drawn.error();
            return nullptr;
        }
        return std::make_shared<const Drawn>(*drawn, scale, hasOwnColours() ? &m_output : nullptr);
    });
    if (!found)
        return problem;
    return std::static_pointer_cast<const Drawn>(found);
}

Result<void> Stamp::drawAt(double step) const
{
    const auto drawn = drawnAt(step);
    return drawn ? Result<void>{} : drawn.error();
}

bool Stamp::showAt(double step)
{
    m_waits = false;
    auto shown = std::static_pointer_cast<const Drawn>(drawnMemo().peek(contentAt(step)));
    if (!shown && m_drawing->isQuick()) {
        const auto drawn = drawnAt(step);
        shown = drawn ? *drawn : nullptr;
    }
    if (!shown)
        return false;
    m_shown = std::move(shown);
    return true;
}

void Stamp::showAs(const Stamp &before)
{
    m_waits = false;
    if (before.m_words == m_words && before.hasOwnColours() == hasOwnColours())
        m_shown = before.m_shown;
}

void Stamp::over(double x, double y, double step, int n, MountPixel *row) const
{
    const double middle = y + 0.5 * step;
    if (middle + step < m_y0 || middle - step > m_y1)
        return;
    const int from = std::max(0, int(std::floor((m_x0 - x) / step)) - 1);
    const int to = std::min(n, int(std::ceil((m_x1 - x) / step)) + 1);
    if (from >= to)
        return;
    std::shared_ptr<const Drawn> drawn = m_shown;
    if (m_waits)
        if (const auto made = drawnAt(step))
            drawn = *made;
    if (!drawn)
        return;
    const double drawnStep = m_waits ? std::max(step, 1.0) : m_scale / drawn->scale;
    const bool hasOwn = hasOwnColours();
    const auto pixelAt = [&](double u, double v, float *out) {
        const double uFloor = std::floor(u);
        const double vFloor = std::floor(v);
        const auto fu = float(u - uFloor);
        const auto fv = float(v - vFloor);
        const auto [i, j] = std::pair(int(uFloor), int(vFloor));
        for (size_t c = 0; c < 4; ++c) {
            const float above = drawn->at(i, j)[c] * (1 - fu) + drawn->at(i + 1, j)[c] * fu;
            const float below = drawn->at(i, j + 1)[c] * (1 - fu) + drawn->at(i + 1, j + 1)[c] * fu;
            out[c] = above * (1 - fv) + below * fv;
        }
    };
    for (int k = from; k < to; ++k) {
        double u = (x + (k + 0.5) * step - m_x0) / drawnStep - 0.5;
        double v = (middle - m_y0) / drawnStep - 0.5;
        if (step < 1) {
            u = std::round(u);
            v = std::round(v);
        }
        float own[4];
        pixelAt(u, v, own);
        const float share = own[3] * m_place.opacity;
        if (share <= 0)
            continue;
        MountPixel &pixel = row[k];
        pixel.keep *= 1 - share;
        for (size_t c = 0; c < 3; ++c) {
            const float ink = hasOwn ? own[c] * m_place.opacity : m_ink[c] * share;
            pixel.add[c] = pixel.add[c] * (1 - share) + ink;
        }
        pixel.alpha = pixel.alpha * (1 - share) + share;
    }
}

} // namespace buttonhole
