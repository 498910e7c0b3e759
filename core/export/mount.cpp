#include "export/mount.h"

#include <cmath>

namespace buttonhole
{

namespace
{

/// The line of the finish of that kind, where it is on and does something.
template <class Kind>
std::shared_ptr<const Kind> finishedBy(const Take &take)
{
    for (const AdjustmentLine &line : take.finish)
        if (auto found = std::dynamic_pointer_cast<const Kind>(line.adjustment);
            found && line.on && !found->isOff())
            return found;
    return nullptr;
}

/// How much of a pixel at that distance lies outside of an edge.
float outside(double distance, double step)
{
    return float(std::clamp(distance / step + 0.5, 0.0, 1.0));
}

void cover(MountPixel &pixel, const float *paint, float share)
{
    pixel.keep *= 1 - share;
    for (size_t c = 0; c < 3; ++c)
        pixel.add[c] = pixel.add[c] * (1 - share) + paint[c] * share;
    pixel.alpha = pixel.alpha * (1 - share) + share;
}

constexpr float kDarkest = 0.75F; ///< of a whole shadow

} // namespace

Mount::Mount(const Take &take, int width, int height, const OutputColour &output)
    : m_signature(finishedBy<Signature>(take)), m_output(output), m_width(width), m_height(height),
      m_x1(width), m_y1(height), m_edge(std::min(width, height))
{
    const auto frame = finishedBy<NumberAdjustment<Frame>>(take);
    if (!frame)
        return;
    m_frame = frame->values();
    const double side = double(m_frame.width);
    const double widths[] = {side + double(m_frame.moreLeft), side + double(m_frame.moreAbove),
                             side + double(m_frame.moreRight), side + double(m_frame.moreBelow)};
    m_hasFrame = widths[0] + widths[1] + widths[2] + widths[3] > 0;
    const double outer = 1 - double(m_frame.over);
    int *sides[] = {&m_left, &m_top, &m_right, &m_bottom};
    for (size_t i = 0; i < 4; ++i)
        *sides[i] = int(std::lround(outer * widths[i] * m_edge));
    const auto inner = [&](size_t i) {
        return std::round(double(m_frame.over) * widths[i] * m_edge);
    };
    m_x0 = m_left + inner(0);
    m_y0 = m_top + inner(1);
    m_x1 = m_left + width - inner(2);
    m_y1 = m_top + height - inner(3);
    m_radius = std::min(double(m_frame.corners) * m_edge,
                        std::max(0.0, std::min(m_x1 - m_x0, m_y1 - m_y0) / 2));
    m_isPlain = !m_hasFrame && m_radius == 0 && m_frame.lineWidth == 0 && m_frame.shadow >= 0;
    const bool isOutside = m_left + m_top + m_right + m_bottom > 0;
    m_hasAlpha =
        !m_isPlain && ((m_radius > 0 && !m_hasFrame) || (isOutside && m_frame.opacity < 1));
    constexpr float kMostChroma = 0.15F;
    encodeColour(output, m_frame.lightness, kMostChroma * m_frame.colour, m_frame.hueDeg, m_paint);
    encodeColour(output, m_frame.lineLightness, 0, 0, m_line);
}

Result<void> Mount::sign()
{
    if (!m_signature)
        return {};
    const SignatureWords &words = m_signature->words();
    const auto drawing =
        drawingOf(words.text, words.font, words.drawing, m_signature->wordsContent());
    if (!drawing)
        return drawing.error();
    m_stamp.emplace(*m_signature, *drawing, m_left, m_top, m_width, m_height, m_output);
    if (signedPart().isEmpty())
        setGround(m_frame.lightness);
    return {};
}

PictureRect Mount::signedPart() const
{
    if (!m_stamp)
        return {};
    return {std::max(m_stamp->x0() - m_left, 0), std::max(m_stamp->y0() - m_top, 0),
            std::min(m_stamp->x1() - m_left, m_width), std::min(m_stamp->y1() - m_top, m_height)};
}

void Mount::setGround(float lightness)
{
    if (m_stamp && m_stamp->goesByGround())
        m_stamp->setGround(lightness);
}

double Mount::distance(double x, double y) const
{
    const double across = std::abs(x - (m_x0 + m_x1) / 2) - (m_x1 - m_x0) / 2 + m_radius;
    const double down = std::abs(y - (m_y0 + m_y1) / 2) - (m_y1 - m_y0) / 2 + m_radius;
    if (across > 0 && down > 0 && m_radius > 0)
        return std::hypot(across, down) - m_radius;
    return std::max(across, down) - m_radius;
}

MountPixel Mount::pixel(double x, double y, double step) const
{
    MountPixel out;
    const double d = distance(x, y);
    const float isOut = outside(d, step);
    const bool isPicture =
        x >= m_left && y >= m_top && x < m_left + m_width && y < m_top + m_height;
    if (!isPicture) {
        out.keep = 0;
        out.alpha = 0;
    }
    const double reach = std::max(double(m_frame.shadowSize) * m_edge, 1e-3);
    const auto shade = [&](double away) {
        return kDarkest * std::abs(m_frame.shadow) *
               float(std::exp(-away * away / (reach * reach)));
    };
    constexpr float kBlack[3] = {0, 0, 0};
    if (m_frame.shadow < 0 && d < step)
        cover(out, kBlack, shade(std::min(d, 0.0)));
    if (m_hasFrame) {
        MountPixel paint{0, {m_paint[0], m_paint[1], m_paint[2]}, 1};
        if (m_frame.shadow > 0)
            cover(paint, kBlack, shade(std::max(d, 0.0)));
        cover(out, paint.add, isOut * m_frame.opacity);
    } else if (m_radius > 0) { // cut off
        out.keep *= 1 - isOut;
        out.alpha *= 1 - isOut;
        for (float &each : out.add)
            each *= 1 - isOut;
    }
    if (m_frame.lineWidth > 0) {
        const double from = double(m_frame.lineGap) * m_edge;
        const double to = from + double(m_frame.lineWidth) * m_edge;
        const float share = outside(d - from, step) - outside(d - to, step);
        cover(out, m_line, m_hasFrame || isPicture ? share : 0);
    }
    return out;
}

int Mount::alike(double x, double y, double step) const
{
    const double last = m_x1 - m_radius;
    const bool isBeyond = y < m_y0 || y > m_y1; // there, how far up or down it is decides alone
    return isBeyond && x >= m_x0 + m_radius && x <= last ? 1 + int((last - x) / step) : 1;
}

void Mount::row(double x, double y, double step, int n, MountPixel *out) const
{
    if (m_isPlain)
        std::fill_n(out, n, MountPixel());
    else
        for (int i = 0; i < n;) {
            const double middle = x + (i + 0.5) * step;
            out[i] = pixel(middle, y + 0.5 * step, step);
            const int count = std::min(n - i, alike(middle, y + 0.5 * step, step));
            std::fill_n(out + i + 1, count - 1, out[i]);
            i += count;
        }
    if (m_stamp)
        m_stamp->over(x, y, step, n, out);
}

bool Mount::signsRow(double y, double step) const
{
    const double middle = y + 0.5 * step;
    return m_stamp && middle + 2 * step >= m_stamp->y0() && middle - 2 * step <= m_stamp->y1();
}

std::pair<double, double> Mount::plainPart(double y, double step) const
{
    constexpr double kShadows = 3; // of a reach; farther it is below a code
    double inside = step + m_radius;
    if (m_frame.shadow < 0)
        inside += kShadows * double(m_frame.shadowSize) * m_edge;
    if (m_frame.lineWidth > 0)
        inside += std::max(0.0, -double(m_frame.lineGap) * m_edge);
    const double middle = y + 0.5 * step;
    const double x0 = m_x0 + inside;
    const double x1 = m_x1 - inside;
    if (middle < m_y0 + inside || middle > m_y1 - inside || x0 >= x1)
        return {0, 0};
    if (!signsRow(y, step))
        return {x0, x1};
    const double before = std::min(x1, m_stamp->x0() - 2 * step);
    const double behind = std::max(x0, m_stamp->x1() + 2 * step);
    if (before - x0 >= x1 - behind)
        return {x0, std::max(x0, before)};
    return {std::min(behind, x1), x1};
}

} // namespace buttonhole
