#include "prepare/straighten_panel.h"

#include "commands/move_words.h"
#include "commands/number_words.h"
#include "controls/sign_button.h"
#include "controls/slider.h"
#include "style/theme.h"
#include "subject/level_angle.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QToolButton>
#include <QVBoxLayout>

#include <cmath>

namespace buttonhole::app
{

StraightenPanel::StraightenPanel(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs), m_hand(session, this)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(6);
    auto *title = new QLabel(tr("Straighten"), this);
    title->setFont(titleFont());
    layout->addWidget(title);
    addButtons();
    addNumbers();
    connect(&m_hand, &LevelHand::changed, this, [this] {
        m_draw->setChecked(m_hand.isActive());
        say(!m_hand.isActive()        ? QString()
            : m_hand.lineCount() == 0 ? tr("Draw along something that should be level or upright.")
                                      : tr("A second line of its kind sets the tilt too; Enter is "
                                           "done."));
    });
    connect(&session, &Session::photoChanged, this, [this] {
        m_finding.request_stop();
        m_hand.setActive(false);
        m_isDragging = false;
        say({});
    });
}

void StraightenPanel::addButtons()
{
    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    const auto add = [&](const QString &name, const char *id, const QString &help) {
        QToolButton *button = makeSignButton(name, id, help, this);
        row->addWidget(button);
        return button;
    };
    m_find = add(tr("Find level"), "findLevel", tr("By the straight edges in the photo"));
    m_draw = add(tr("Draw a line"), "drawLevel",
                 tr("Along something on the photo that should be level or upright"));
    m_draw->setCheckable(true);
    connect(m_find, &QToolButton::clicked, this, &StraightenPanel::findAngle);
    connect(m_draw, &QToolButton::clicked, this, [this](bool on) {
        m_hand.setActive(on);
        Q_EMIT canvasAsked();
    });
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

void StraightenPanel::addNumbers()
{
    for (const Param<Straightening> &row : Straightening::rows()) {
        const QString name = numberWord("straighten", row.id);
        auto *slider =
            new Slider(name, Slider::Range::of(row), numberHelp("straighten", row.id), this);
        slider->setObjectName(QStringLiteral("straighten.") + QLatin1String(row.id));
        connect(slider, &Slider::amountChanged, this, [this, name, slider, &row](double amount) {
            const Geometry &now = m_session.work().take().geometry;
            if (!std::exchange(m_isDragging, true))
                m_cropBefore = now.crop;
            edit(ofPrepare(name, slider->valueText()),
                 changed(now.straightening, row, float(amount)), slider->objectName());
        });
        connect(slider, &Slider::released, this, [this] {
            m_isDragging = false;
            m_session.endMerge();
        });
        layout()->addWidget(slider);
        m_numbers.append(slider);
    }
    auto *corners = new QCheckBox(tr("Leave corners white"), this);
    corners->setObjectName(QStringLiteral("whiteCorners"));
    corners->setToolTip(tr("The crop may reach beyond what the turned photo fills"));
    connect(corners, &QCheckBox::toggled, this, &StraightenPanel::cornersAllowed);
    layout()->addWidget(corners);
    m_said = new QLabel(this);
    m_said->setObjectName(QStringLiteral("straightenSaid"));
    m_said->setWordWrap(true);
    m_said->setTextFormat(Qt::PlainText);
    m_said->hide();
    layout()->addWidget(m_said);
}

void StraightenPanel::edit(const QString &text, const Straightening &to, const QString &mergeKey)
{
    const Photo &photo = m_session.levels()->photo();
    Take take = m_session.work().take();
    take.geometry.straightening = to;
    if (m_isDragging)
        take.geometry.crop = m_cropBefore;
    m_session.edit(text, withFilledCrop(std::move(take), photo.width, photo.height), mergeKey);
}

void StraightenPanel::findAngle()
{
    if (!m_session.hasPhoto())
        return;
    m_finding.request_stop();
    m_find->setEnabled(false);
    const Radial distortion = distortionOf(m_session.work().take());
    m_finding = m_jobs.start(
        tr("Finding what is level…"),
        [levels = m_session.levels(), distortion](const Run &) {
            return std::pair(levels, findLevelAngle(*levels, distortion));
        },
        [this, guard = QPointer<StraightenPanel>(this)](const auto &found) {
            if (!guard)
                return;
            m_find->setEnabled(true);
            const auto &[levels, angle] = found;
            if (levels != m_session.levels()) // another photo by now
                return;
            if (!angle) {
                say(tr("No straight edges agree on what is level here. Draw a line along one."));
                return;
            }
            Straightening to = m_session.work().take().geometry.straightening;
            to.angleDeg = std::round(*angle * 100) / 100;
            m_isDragging = false;
            edit(ofPrepare(tr("Find level")), to);
            say(to.angleDeg == 0 ? tr("It is level as it is.")
                                 : tr("Turned by %1°.").arg(double(to.angleDeg), 0, 'f', 2));
        });
}

void StraightenPanel::say(const QString &what)
{
    m_said->setText(what);
    m_said->setVisible(!what.isEmpty());
}

void StraightenPanel::refresh()
{
    const Straightening &now = m_session.take()->geometry.straightening;
    const auto rows = Straightening::rows();
    for (size_t i = 0; i < rows.size(); ++i)
        m_numbers[int(i)]->setAmount(double(rows[i].get(now)));
}

} // namespace buttonhole::app
