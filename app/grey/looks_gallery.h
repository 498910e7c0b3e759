#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "tone/looks.h"

#include <QImage>
#include <QTimer>
#include <QWidget>

namespace buttonhole::app
{

/// The looks as pictures of this photo. Pointing at one shows it on the canvas, leaving brings back
/// what was; a click takes it. Keys: arrows point, Return takes, Esc leaves.
class LooksGallery : public QWidget
{
    Q_OBJECT
public:
    LooksGallery(Session &session, Jobs &jobs, QWidget *parent = nullptr);

    /// Cell 0 is the plain grey, then one for each look.
    int count() const;
    QRect cell(int index) const;
    bool hasPictures() const { return !m_pictures.isEmpty(); }
    int pointedAt() const { return m_pointed; }

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

protected:
    void paintEvent(QPaintEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;
    void showEvent(QShowEvent *event) override;
    void hideEvent(QHideEvent *event) override;

private:
    GreyMix mixOf(int index) const;
    QString nameOf(int index) const;
    void pointAt(int index);
    void take(int index);
    void refreshSoon();
    void renderPictures();

    Session &m_session;
    Jobs &m_jobs;
    QList<QImage> m_pictures;
    std::shared_ptr<const Take> m_madeFrom;
    QTimer m_timer;
    bool m_isRendering = false;
    int m_pointed = -1;
    bool m_isPreviewing = false;
};

} // namespace buttonhole::app
