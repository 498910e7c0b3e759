#include "prepare/prepare_details.h"

#include "commands/move_words.h"
#include "commands/number_words.h"
#include "commands/prepare_words.h"
#include "controls/tabbed_pages.h"
#include "light/fine_light.h"
#include "light/lens.h"
#include "light/photo_light.h"
#include "prepare/lens_panel.h"
#include "style/theme.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

PrepareDetails::PrepareDetails(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs), m_crop(session, this),
      m_neutral(session, this), m_pages(new TabbedPages(this))
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 8, 0, 4);
    layout->setSpacing(8);
    auto *title = new QLabel(tr("Prepare"), this);
    title->setFont(titleFont());
    layout->addWidget(title);
    layout->addWidget(m_pages, 1);
    addCrop();
    addLens();
    addLight();
    addClean();
    connect(m_pages, &TabbedPages::turned, this, &PrepareDetails::followLine);
    showPage(Light);
    connect(&m_session, &Session::historyChanged, this, &PrepareDetails::refresh);
    connect(&m_session, &Session::takeChanged, this, [this](const SeenChange &what) {
        if (what.parts.geometry || what.parts.prepare)
            refresh();
    });
    connect(&m_session, &Session::lineChanged, this, &PrepareDetails::followLine);
    connect(&m_session, &Session::photoChanged, this, [this] {
        m_finding.request_stop();
        m_done->clear();
        m_crop.setRatio(0);
        followLine();
    });
    connect(&m_crop, &CropHand::closeAsked, this, &PrepareDetails::closeAsked);
    connect(&m_crop, &CropHand::changed, this, &PrepareDetails::refreshCrop);
    connect(&m_neutral, &NeutralPick::changed, this, [this] {
        m_pick->setChecked(m_neutral.isActive());
        followLine();
    });
    refresh();
}

void PrepareDetails::showPage(Page page)
{
    m_pages->show(page);
}

/// The canvas is the crop's while its page is seen.
void PrepareDetails::followLine()
{
    const bool isShown = m_session.hasPhoto() && m_session.line().kind == TicketLine::Kind::Prepare;
    const bool isCrop = isShown && m_pages->shown() == Crop;
    if (isCrop && !m_crop.isActive())
        Q_EMIT canvasAsked();
    m_crop.setActive(isCrop);
    if (!isCrop)
        m_straighten->hand().setActive(false);
    m_clean->hand().setActive(isShown && m_pages->shown() == Clean);
    const bool isLight = isShown && m_pages->shown() == Light;
    if (!isLight)
        m_neutral.setActive(false);
    Q_EMIT colourAsked(isLight && (m_inColour->isChecked() || m_neutral.isActive()));
}

void PrepareDetails::addLens()
{
    QVBoxLayout *page =
        m_pages->add(tr("Lens"), tr("What the lens bent, darkened and fringed, taken back"));
    page->setSpacing(6);
    page->addWidget(new LensPanel(m_session, m_jobs, this));
    constexpr size_t kByProfile = 3; // numbers; the others are by hand
    addNumbers(page, Lens::kKind, 0, kByProfile);
    auto *head = new QLabel(tr("By hand"), this);
    head->setFont(titleFont());
    page->addWidget(head);
    addNumbers(page, Lens::kKind, kByProfile);
    page->addStretch();
}

void PrepareDetails::addClean()
{
    QVBoxLayout *page = m_pages->add(tr("Clean"), tr("Dust and other spots mended"));
    m_clean = new CleanPanel(m_session, m_jobs, this);
    connect(m_clean, &CleanPanel::lookAsked, this, &PrepareDetails::lookAsked);
    page->addWidget(m_clean);
    page->addStretch();
}

void PrepareDetails::addLight()
{
    QVBoxLayout *page = m_pages->add(
        tr("Light"), tr("Exposure, tones and colour of the whole photo, before it goes grey"));
    page->setSpacing(6);
    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    m_auto = new QToolButton(this);
    m_auto->setObjectName(QStringLiteral("autoLight"));
    m_auto->setText(tr("Auto light"));
    m_auto->setToolTip(tr("Sets exposure, shadows, black point and balance by the photo"));
    m_pick = new QToolButton(this);
    m_pick->setObjectName(QStringLiteral("pickNeutral"));
    m_pick->setText(tr("Pick neutral"));
    m_pick->setCheckable(true);
    m_pick->setToolTip(tr("Then click something in the photo that should have no colour"));
    connect(m_auto, &QToolButton::clicked, this, &PrepareDetails::findLight);
    connect(m_pick, &QToolButton::clicked, this, [this](bool on) { m_neutral.setActive(on); });
    for (QToolButton *button : {m_auto, m_pick}) {
        button->setProperty("sign", true);
        row->addWidget(button);
    }
    row->addStretch();
    m_inColour = new QCheckBox(tr("In colour"), this);
    m_inColour->setObjectName(QStringLiteral("inColour"));
    m_inColour->setToolTip(tr("See the whole photo in colour while its light is set"));
    connect(m_inColour, &QCheckBox::clicked, this, &PrepareDetails::followLine);
    row->addWidget(m_inColour);
    page->addLayout(row);
    m_done = new QLabel(this);
    m_done->setObjectName(QStringLiteral("autoDone"));
    m_done->setWordWrap(true);
    m_done->setTextFormat(Qt::PlainText);
    page->addWidget(m_done);
    addNumbers(page, PhotoLight::kKind);
    for (const std::string_view kind : {Sharpness::kKind, Noise::kKind}) {
        auto *head = new QLabel(kindWord(kind), this);
        head->setFont(titleFont());
        page->addWidget(head);
        addNumbers(page, kind);
    }
    page->addStretch();
}

void PrepareDetails::addNumbers(QVBoxLayout *page, std::string_view kind, size_t first, size_t end)
{
    const auto &numbers = adjustmentKinds().find(kind)->numbers;
    for (size_t i = first; i < std::min(end, numbers.size()); ++i) {
        const AnyParam &number = numbers[i];
        const QString name = numberWord(kind, number.id);
        auto *slider = new Slider(name, Slider::Range::of(number), numberHelp(kind, number.id),
                                  page->parentWidget());
        slider->setObjectName(
            QString::fromStdString(std::string(kind) + "." + std::string(number.id)));
        const double factor = number.scale.factor;
        connect(slider, &Slider::amountChanged, this,
                [this, name, slider, kind, i, factor](double amount) {
                    Take take = m_session.work().take();
                    const AdjustmentRef made =
                        preparedBy(take, kind)->withNumber(i, float(amount / factor));
                    m_done->clear();
                    if (kind == Sharpness::kKind && i == 0)
                        Q_EMIT sharpnessAsked(slider->isDragging());
                    const Photo &photo = m_session.levels()->photo();
                    m_session.edit(ofPrepare(name, slider->valueText()),
                                   withFilledCrop(withPrepared(std::move(take), made), photo.width,
                                                  photo.height),
                                   slider->objectName());
                });
        connect(slider, &Slider::released, this, [this] {
            Q_EMIT sharpnessAsked(false);
            m_session.endMerge();
        });
        page->addWidget(slider);
        m_numbers.append({slider, kind, i, factor});
    }
}

void PrepareDetails::findLight()
{
    if (!m_session.hasPhoto())
        return;
    m_finding.request_stop();
    m_auto->setEnabled(false);
    const auto now = std::static_pointer_cast<const NumberAdjustment<PhotoLight>>(
        preparedBy(m_session.work().take(), PhotoLight::kKind));
    m_finding = m_jobs.start(
        tr("Finding the light…"),
        [levels = m_session.levels(), now](const Run &) {
            return std::pair(levels, autoLight(*levels, now->values()));
        },
        [this, guard = QPointer<PrepareDetails>(this)](const auto &found) {
            if (!guard)
                return;
            m_auto->setEnabled(true);
            if (found.first != m_session.levels()) // another photo by now
                return;
            const auto made = std::make_shared<const NumberAdjustment<PhotoLight>>(found.second);
            m_session.edit(ofPrepare(tr("Auto light")),
                           withPrepared(m_session.work().take(), made));
            constexpr int kMostWords = 10;
            const QString words = wordsOfLight(*made, kMostWords);
            m_done->setText(words.isEmpty() ? tr("The light is well as it is.") : words);
        });
}

void PrepareDetails::refresh()
{
    if (!m_session.hasPhoto())
        return;
    for (const Number &each : m_numbers)
        each.slider->setAmount(
            double(preparedBy(*m_session.take(), each.kind)->number(each.index)) * each.factor);
    refreshCrop();
}

} // namespace buttonhole::app
