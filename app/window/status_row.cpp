#include "window/status_row.h"

#include "controls/elided_text.h"
#include "controls/plain_tip.h"
#include "style/theme.h"
#include "window/actions.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QMenu>
#include <QPainter>
#include <QProgressBar>
#include <QTimer>
#include <QToolButton>

#include <cmath>

namespace buttonhole::app
{

QString viewName(View view)
{
    switch (view) {
    case View::Original:
        return StatusRow::tr("Original");
    case View::Mask:
        return StatusRow::tr("Mask");
    case View::Tinted:
        return StatusRow::tr("Tinted");
    case View::ColourMap:
        return StatusRow::tr("Colour map");
    case View::Clipped:
        return StatusRow::tr("Clipped tones");
    case View::Pinned: // beside the view, never the view itself
        break;
    case View::CutOut:
        return StatusRow::tr("Cut-out");
    case View::Result:
        break;
    }
    return StatusRow::tr("Result");
}

StatusRow::StatusRow(Session &session, Canvas &canvas, Jobs &jobs, const Actions &actions,
                     QWidget *parent)
    : QWidget(parent), m_session(session), m_canvas(canvas), m_jobs(jobs),
      m_view(new QToolButton(this)), m_hints(new QLabel(this)), m_fit(new QToolButton(this)),
      m_actual(new QToolButton(this)), m_zoom(new QLabel(this)), m_pixel(new QLabel(this)),
      m_word(new ElidedText(this)), m_progress(new QProgressBar(this)),
      m_stop(new QToolButton(this))
{
    setFixedHeight(32);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(10, 0, 14, 0);
    layout->setSpacing(6);
    for (QToolButton *button : {m_view, m_fit, m_actual, m_stop})
        button->setProperty("flat", true);

    auto *views = new QMenu(m_view);
    for (const char *id : {"view-result", "view-mask", "view-tinted", "view-cut-out",
                           "view-colour-map", "view-clipped"})
        views->addAction(actions[id]);
    views->addSeparator();
    views->addAction(actions["split"]);
    m_view->setMenu(views);
    m_view->setPopupMode(QToolButton::InstantPopup);
    m_view->setStyleSheet(QStringLiteral("padding-right: 18px;"));
    m_view->setToolTip(tr("How the photo is shown"));
    layout->addWidget(m_view);
    m_hints->setText(
        tr("C original    %1 split    %2 mask views").arg(keyOf("split"), keyOf("next-view")));
    m_hints->setFont(smallFont());
    layout->addSpacing(8);
    layout->addWidget(m_hints);
    layout->addStretch(1);
    m_fit->setDefaultAction(actions["fit"]);
    m_actual->setDefaultAction(actions["actual"]);
    m_fit->setToolTip(withKey(tr("The whole photo"), "fit"));
    m_actual->setToolTip(withKey(tr("One photo pixel on one screen pixel"), "actual"));
    m_zoom->setMinimumWidth(44);
    m_zoom->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    m_zoom->setToolTip(tr("Zoom now"));
    QFont bold = bodyFont();
    bold.setWeight(QFont::DemiBold);
    m_zoom->setFont(bold);
    layout->addWidget(m_zoom);
    layout->addSpacing(6);
    layout->addWidget(m_fit);
    m_dot = new QLabel(QStringLiteral("·"), this);
    layout->addWidget(m_dot);
    layout->addWidget(m_actual);
    layout->addSpacing(10);
    m_pixel->setFont(smallFont());
    m_pixel->setMinimumWidth(170);
    m_pixel->setToolTip(tr("Position in px, hue and lightness of the photo there"));
    layout->addWidget(m_pixel);
    layout->addStretch(1);
    m_word->setObjectName(QStringLiteral("statusWord"));
    m_word->setFont(smallFont());
    layout->addWidget(m_word);
    m_progress->setFixedWidth(90);
    m_progress->setTextVisible(false);
    m_progress->setRange(0, 1000);
    layout->addWidget(m_progress);
    m_stop->setText(tr("Stop"));
    m_stop->setToolTip(tr("Stop this work; nothing is changed"));
    layout->addWidget(m_stop);

    connect(m_stop, &QToolButton::clicked, &m_jobs, &Jobs::stopShown);
    connect(&m_jobs, &Jobs::changed, this, &StatusRow::refreshJob);
    connect(&m_canvas, &Canvas::seenChanged, this, &StatusRow::refreshView);
    connect(&m_canvas, &Canvas::viewChanged, this, &StatusRow::refreshZoom);
    connect(&m_canvas, &Canvas::pointerMoved, this, &StatusRow::showPixel);
    connect(&m_canvas, &Canvas::pointerLeft, m_pixel, &QLabel::clear);
    refreshView();
    refreshZoom();
    refreshJob();
}

void StatusRow::say(const QString &text, int ms)
{
    m_word->setText(text);
    QTimer::singleShot(ms, m_word, [word = m_word, text] {
        if (word->text() == text)
            word->clear();
    });
}

void StatusRow::setShowsCanvas(bool shows)
{
    for (QWidget *each :
         std::initializer_list<QWidget *>{m_view, m_hints, m_zoom, m_fit, m_dot, m_actual, m_pixel})
        each->setVisible(shows);
}

QString StatusRow::said() const
{
    return m_word->text();
}

void StatusRow::refreshView()
{
    const Seen &seen = m_canvas.seen();
    QString name = m_canvas.showsOriginal() ? tr("Original") : viewName(seen.view);
    if (seen.showsOneKeep())
        name += tr(" of this keep");
    if ((seen.split || seen.sideBySide) && !m_canvas.showsOriginal())
        name +=
            QStringLiteral(" | ") + (m_canvas.pinned() ? m_canvas.pinnedName() : tr("Original"));
    m_view->setText(tr("View  %1").arg(name));
}

void StatusRow::refreshZoom()
{
    m_zoom->setText(m_session.hasPhoto()
                        ? locale().toString(m_canvas.transform().scale() * 100, 'f',
                                            m_canvas.transform().scale() < 0.1 ? 1 : 0) +
                              QStringLiteral(" %")
                        : QString());
}

void StatusRow::refreshJob()
{
    const QString title = m_jobs.title();
    m_progress->setVisible(!title.isEmpty());
    m_stop->setVisible(!title.isEmpty());
    m_progress->setValue(int(m_jobs.fraction() * 1000));
    m_progress->setToolTip(plainTip(title));
    m_progress->setAccessibleName(title);
    if (!title.isEmpty())
        m_word->setText(title);
    else if (m_word->text().endsWith(QChar(0x2026)))
        m_word->clear();
}

void StatusRow::showPixel(const QPointF &photo)
{
    const int x = int(std::floor(photo.x()));
    const int y = int(std::floor(photo.y()));
    if (!m_session.hasPhoto() || x < 0 || y < 0 || x >= m_session.levels()->photo().width ||
        y >= m_session.levels()->photo().height) {
        m_pixel->clear();
        return;
    }
    const PixelReading pixel = readPixel(*m_session.levels(), x, y);
    const QString hue = pixel.chroma < 0.02
                            ? tr("neutral")
                            : tr("hue %1°").arg(int(std::lround(pixel.hueDeg)) % 360);
    m_pixel->setText(tr("%1, %2   %3  L %4")
                         .arg(x)
                         .arg(y)
                         .arg(hue)
                         .arg(int(std::lround(pixel.lightness * 100))));
}

void StatusRow::paintEvent(QPaintEvent *)
{
    QPainter(this).fillRect(rect(), felt().bar);
}

} // namespace buttonhole::app
