#include "prepare/crop_ideas_row.h"

#include "subject/crop_ideas.h"
#include "subject/net_picture.h"
#include "view/net_image.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

constexpr int kPictureEdge = 88; ///< px, twice of what is shown
constexpr int kShownEdge = 44;

/// As the picture lies.
QImage turned(const QImage &photo, const Geometry &geometry)
{
    const QImage upright = geometry.isMirrored ? photo.mirrored(true, false) : photo;
    return upright.transformed(QTransform().rotate(90.0 * geometry.quarterTurns));
}

} // namespace

CropIdeasRow::CropIdeasRow(Session &session, Jobs &jobs, CropHand &hand, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs), m_hand(hand),
      m_find(new QToolButton(this)), m_none(new QLabel(this)), m_row(new QHBoxLayout)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    m_find->setObjectName(QStringLiteral("suggestCrops"));
    m_find->setText(tr("Suggest crops"));
    m_find->setToolTip(tr("Crops of this ratio that hold the main subject well"));
    m_find->setProperty("sign", true);
    m_find->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(m_find, &QToolButton::clicked, this, &CropIdeasRow::find);
    layout->addWidget(m_find);
    m_none->setWordWrap(true);
    m_none->hide();
    layout->addWidget(m_none);
    m_row->setSpacing(4);
    m_row->addStretch();
    layout->addLayout(m_row);
    connect(&m_session, &Session::photoChanged, this, [this] {
        m_finding.request_stop();
        m_find->setEnabled(true);
        clear();
    });
}

void CropIdeasRow::clear()
{
    m_none->hide();
    for (QToolButton *button : std::exchange(m_buttons, {}))
        button->deleteLater();
    m_crops.clear();
}

void CropIdeasRow::find()
{
    if (!m_session.hasPhoto())
        return;
    m_finding.request_stop();
    m_find->setEnabled(false);
    const Geometry geometry = m_session.work().take().geometry;
    const double ratio =
        m_hand.ratio() > 0 && geometry.quarterTurns % 2 == 1 ? 1 / m_hand.ratio() : m_hand.ratio();
    m_finding = m_jobs.start(
        tr("Looking for crops…"),
        [levels = m_session.levels(), geometry, ratio](const Run &run) {
            std::vector<Idea> out;
            const auto subject = findWhatStandsOut(*levels, run);
            if (subject)
                for (const Rect &crop : findCropIdeas(*levels, *subject, ratio))
                    out.push_back(
                        {crop,
                         turned(toImage(readNetPicture(*levels, crop, kPictureEdge)), geometry)});
            return std::pair(levels, out);
        },
        [this, guard = QPointer<CropIdeasRow>(this)](const auto &found) {
            if (!guard || found.first != m_session.levels())
                return;
            m_find->setEnabled(true);
            show(found.second);
        });
}

void CropIdeasRow::show(const std::vector<Idea> &ideas)
{
    clear();
    m_none->setText(tr("Nothing stands out in this photo that a crop could hold."));
    m_none->setVisible(ideas.empty());
    for (const Idea &idea : ideas) {
        auto *button = new QToolButton(this);
        button->setObjectName(QStringLiteral("cropIdea"));
        button->setIcon(QPixmap::fromImage(idea.picture));
        button->setIconSize({kShownEdge, kShownEdge});
        button->setFixedSize(kShownEdge + 6, kShownEdge + 6); // five fit beside each other
        button->setStyleSheet(QStringLiteral("padding: 2px; min-width: 0; min-height: 0"));
        const QString name = tr("Crop %1 × %2 px").arg(idea.crop.width()).arg(idea.crop.height());
        button->setAccessibleName(name);
        button->setToolTip(name);
        button->installEventFilter(this);
        connect(button, &QToolButton::clicked, this,
                [this, crop = idea.crop] { m_hand.choose(crop); });
        m_row->insertWidget(int(m_buttons.size()), button);
        m_buttons.append(button);
        m_crops.append(idea.crop);
    }
}

bool CropIdeasRow::eventFilter(QObject *watched, QEvent *event)
{
    const auto at = m_buttons.indexOf(qobject_cast<QToolButton *>(watched));
    if (at >= 0 && (event->type() == QEvent::Enter || event->type() == QEvent::FocusIn))
        m_hand.preview(m_crops[at]);
    else if (at >= 0 && (event->type() == QEvent::Leave || event->type() == QEvent::FocusOut))
        m_hand.endPreview();
    return QWidget::eventFilter(watched, event);
}

} // namespace buttonhole::app
