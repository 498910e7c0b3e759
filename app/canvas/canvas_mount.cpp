// The frame round the picture on the canvas and its signature, as they will leave.
#include "canvas/canvas.h"
#include "export/signed_mount.h"

#include <cmath>

namespace buttonhole::app
{

bool Canvas::updateMount()
{
    const PictureMap picture = shownPicture();
    const PictureRect rect = picture.rect();
    const std::optional<Stamp> signedBefore = m_mount ? m_mount->stamp() : std::nullopt;
    m_mount.emplace(activeHand() ? Take() : *m_session.take(), rect.width(), rect.height(),
                    *m_output);
    signMount();
    if (m_mount->stamp() && signedBefore)
        m_mount->stamp()->showAs(*signedBefore);
    const QMargins around(m_mount->left(), m_mount->top(), m_mount->right(), m_mount->bottom());
    const ViewTransform before = m_transform;
    m_transform.setPicture(picture, around);
    return m_transform != before;
}

void Canvas::signMount()
{
    const Signature *signature = m_mount->signature();
    if (!signature)
        return;
    if (hasDrawing(signature->wordsContent())) {
        if (const auto done = m_mount->sign(); !done)
            return tellUndrawn(signature->wordsContent(), done.error());
        if (m_ground && !m_mount->signedPart().isEmpty())
            m_mount->setGround(*m_ground);
        m_groundRest.start();
        return;
    }
    m_jobs.start(
        {},
        [words = signature->words(), content = signature->wordsContent()](const Run &) {
            return bool(drawingOf(words.text, words.font, words.drawing, content));
        },
        [this, guard = QPointer<Canvas>(this), content = signature->wordsContent()](bool) {
            // Fails to be drawn or is drawn: both are told at once from now on.
            if (!guard || !m_session.hasPhoto() || !hasDrawing(content))
                return;
            if (updateMount())
                viewMoved();
            refresh(rect());
        });
}

void Canvas::showSignature()
{
    const double step = 1 / m_transform.scale();
    if (!m_mount || !m_mount->stamp() || m_mount->stamp()->showAt(step) || m_isDrawing)
        return;
    m_isDrawing = true;
    m_jobs.start(
        {}, [stamp = *m_mount->stamp(), step](const Run &) { return stamp.drawAt(step); },
        [this, guard = QPointer<Canvas>(this),
         words = m_mount->signature()->wordsContent()](const Result<void> &done) {
            if (!guard)
                return;
            m_isDrawing = false;
            if (done)
                refresh(rect());
            else
                tellUndrawn(words, done.error());
        });
}

void Canvas::tellUndrawn(uint64_t words, const Error &error)
{
    if (std::exchange(m_undrawnWords, words) != words)
        Q_EMIT failed(error);
}

void Canvas::findGround()
{
    m_groundJob.request_stop();
    const bool isAsked = m_mount && m_mount->stamp() && m_mount->stamp()->goesByGround() &&
                         !m_mount->signedPart().isEmpty();
    if (!isAsked || m_toolbox.current().isBusy())
        return;
    struct Found {
        std::optional<float> lightness;
    };
    m_groundJob = m_jobs.start(
        {},
        [levels = m_session.levels(), take = m_session.take(), mount = *m_mount](const Run &run) {
            const auto lightness = groundUnder(*levels, *take, mount, run);
            return Found{lightness ? std::optional(*lightness) : std::nullopt};
        },
        [this, guard = QPointer<Canvas>(this), levels = m_session.levels()](const Found &found) {
            if (!guard || !found.lightness || levels != m_session.levels() || !m_mount)
                return;
            m_ground = found.lightness;
            if (m_mount->signedPart().isEmpty())
                return;
            m_mount->setGround(*m_ground);
            refresh(rect());
        });
}

void Canvas::paintMount(QImage &rows, int firstRow, const QRegion &stale) const
{
    const bool isShown = m_mount && !m_mount->isPlain() && paneShift() == 0 && !m_original &&
                         shownView() == View::Result;
    if (!isShown)
        return;
    const double ratio = devicePixelRatioF();
    const double step = 1 / m_transform.scale();
    const PictureRect picture = m_transform.picture().rect();
    const QPointF origin = m_transform.placeOf({double(picture.x0 - m_mount->left()),
                                                double(picture.y0 - m_mount->top())}) *
                           ratio; // device px
    const float surround[3] = {float(m_surround.blueF()), float(m_surround.greenF()),
                               float(m_surround.redF())};
    std::vector<MountPixel> pixels;
    const auto draw = [&](uchar *row, double y, int x0, int x1) {
        if (x0 >= x1)
            return;
        pixels.resize(size_t(x1 - x0));
        m_mount->row((x0 - origin.x()) * step, y, step, x1 - x0, pixels.data());
        for (int x = x0; x < x1; ++x) {
            const MountPixel &over = pixels[size_t(x - x0)];
            uchar *bgr = row + ptrdiff_t(x) * 4;
            for (int c = 0; c < 3; ++c) {
                const float code = over.keep * float(bgr[c]) / 255 + over.add[2 - c] +
                                   (1 - over.alpha) * surround[c];
                bgr[c] = uchar(std::clamp(code, 0.0F, 1.0F) * 255 + 0.5F);
            }
        }
    };
    for (const QRect &part : stale) {
        const int left =
            std::max(int(std::floor(part.left() * ratio)), int(std::ceil(origin.x() - 0.5)));
        const int right = std::min({int(std::ceil((part.right() + 1) * ratio)), rows.width(),
                                    int(std::floor(origin.x() + m_mount->width() / step + 0.5))});
        for (int row = 0; row < rows.height(); ++row) {
            const double logical = (firstRow + row) / ratio;
            const double y = (firstRow + row - origin.y()) * step;
            if (logical < part.top() || logical >= part.bottom() + 1 || y + step / 2 < 0 ||
                y + step / 2 >= m_mount->height())
                continue;
            const auto [from, to] = m_mount->plainPart(y, step);
            const int plainFrom = from < to ? int(std::ceil(from / step + origin.x())) : right;
            const int plainTo = from < to ? int(std::floor(to / step + origin.x())) : right;
            uchar *bits = rows.scanLine(row);
            draw(bits, y, left, std::min(right, plainFrom));
            draw(bits, y, std::max(left, plainTo), right);
        }
    }
}

} // namespace buttonhole::app
