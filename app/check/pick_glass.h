#pragma once

#include "canvas/canvas.h"
#include "jobs/jobs.h"

#include <QWidget>

namespace buttonhole::app
{

/// The magnifier: the photo's pixels under the pointer (or the edge, while that is elsewhere), 2, 4
/// or 8 times enlarged; result or mask.
class PickGlass : public QWidget
{
    Q_OBJECT
public:
    PickGlass(Session &session, Canvas &canvas, Jobs &jobs, QWidget *parent = nullptr);

    int zoom() const { return m_zoom; }
    void setZoom(int zoom);
    bool showsMask() const { return m_showsMask; }
    void setShowsMask(bool shows);
    /// What is in the glass, one image pixel per photo pixel.
    QImage picture() const;
    QSize sizeHint() const override { return {220, 160}; }

Q_SIGNALS:
    void optionsChanged();

protected:
    void paintEvent(QPaintEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;

private:
    /// All that a picture depends on.
    struct Ask {
        std::shared_ptr<const PhotoLevels> levels;
        std::shared_ptr<const Take> take;
        std::shared_ptr<const OutputColour> output;
        View view = View::Result;
        PictureRect whole; ///< may reach past the picture
        QRgb ground = 0;   ///< where there is none
        friend bool operator==(const Ask &, const Ask &) = default;
    };
    static QImage render(const Ask &ask);
    /// The pixel that is looked at.
    PictureRect pointed() const;
    PictureRect seen() const;
    Ask asked() const;
    void follow();
    void rest();

    Session &m_session;
    Canvas &m_canvas;
    Jobs &m_jobs;
    Ask m_shownAsk; ///< what m_shown answers
    QImage m_shown;
    bool m_isStale = false; ///< though nothing else is asked for: drafts became exact
    bool m_isRendering = false;
    QPointF m_at{-1, -1};
    bool m_isPointed = false; ///< the pointer is over the canvas
    int m_zoom = 4;
    bool m_showsMask = false;
};

} // namespace buttonhole::app
