#include "grey/grey_details.h"

#include "commands/move_words.h"
#include "controls/tabbed_pages.h"
#include "grey/hue_curve_editor.h"
#include "grey/looks_gallery.h"
#include "grey/tone_graph.h"
#include "render/auto_grey.h"
#include "style/theme.h"
#include "tone/toning_curve.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

GreyDetails::GreyDetails(Session &session, GreyDrag &drag, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_drag(drag), m_jobs(jobs),
      m_pages(new TabbedPages(this))
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 8, 0, 4);
    layout->setSpacing(8);
    addHead(layout);
    layout->addWidget(m_pages, 1);
    addLooks();
    addColours();
    addTone();
    addToning();
    connect(m_pages, &TabbedPages::turned, this, &GreyDetails::measureSoon);
    showPage(0);
    m_measureTimer.setSingleShot(true);
    m_measureTimer.setInterval(80);
    connect(&m_measureTimer, &QTimer::timeout, this, &GreyDetails::refreshStatistics);
    connect(&m_session, &Session::historyChanged, this, &GreyDetails::refresh);
    connect(&m_session, &Session::takeChanged, this, [this](const SeenChange &what) {
        if (m_drag.isDragging())
            refresh();
        if (what.parts.ofPicture())
            measureSoon();
    });
    connect(&m_session, &Session::photoChanged, this, [this] {
        m_needsHues = true;
        m_finding.request_stop();
        if (m_pinned)
            togglePin();
        measureSoon();
    });
    connect(&m_session, &Session::lineChanged, this, &GreyDetails::measureSoon);
    refresh();
}

void GreyDetails::addHead(QVBoxLayout *layout)
{
    auto *row = new QHBoxLayout;
    row->setContentsMargins(0, 0, 16, 0);
    row->setSpacing(5);
    auto *title = new QLabel(tr("Grey"), this);
    title->setFont(titleFont());
    row->addWidget(title);
    row->addStretch();
    m_auto = new QToolButton(this);
    m_auto->setText(tr("Auto"));
    m_auto->setToolTip(
        tr("Find the mix that keeps this photo's colour contrasts as grey contrasts"));
    m_pin = new QToolButton(this);
    m_pin->setText(tr("Compare"));
    m_pin->setCheckable(true);
    m_pin->setToolTip(tr("Holds on to this grey: what you do next is split against it"));
    connect(m_auto, &QToolButton::clicked, this, &GreyDetails::findAuto);
    connect(m_pin, &QToolButton::clicked, this, &GreyDetails::togglePin);
    for (QToolButton *button : {m_auto, m_pin}) {
        button->setProperty("sign", true);
        row->addWidget(button);
    }
    layout->addLayout(row);
}

void GreyDetails::showPage(int page)
{
    m_pages->show(page);
}

void GreyDetails::edit(const QString &text, const std::function<void(GreyMix &)> &change,
                       const QString &mergeKey, const QString &value)
{
    if (!m_session.hasPhoto())
        return;
    Take take = m_session.work().take();
    change(take.grey);
    m_session.edit(ofGrey(text, value), std::move(take), mergeKey);
}

/// A slider for one number of the mix, by its row in greyParams().
Slider *GreyDetails::addNumber(QVBoxLayout *page, const QString &name, const QString &help,
                               const char *id)
{
    const Param<GreyMix> &param = paramNamed(greyParams(), id);
    auto *slider = new Slider(name, Slider::Range::of(param), help, page->parentWidget());
    slider->setObjectName(QStringLiteral("grey.") + QString::fromLatin1(id));
    connect(slider, &Slider::amountChanged, this, [this, name, slider, &param](double amount) {
        edit(
            name, [&](GreyMix &m) { param.of(m) = float(amount / param.scale.factor); },
            QStringLiteral("grey-") + QString::fromLatin1(param.id), slider->valueText());
    });
    connect(slider, &Slider::released, this, [this] { m_session.endMerge(); });
    m_refreshers.append([slider, &param](const GreyMix &m) {
        slider->setAmount(double(param.get(m)) * param.scale.factor);
    });
    page->addWidget(slider);
    return slider;
}

QCheckBox *GreyDetails::addSwitch(QVBoxLayout *page, const QString &name, const QString &help,
                                  const std::function<bool(const GreyMix &)> &get,
                                  const std::function<void(GreyMix &, bool)> &set)
{
    auto *box = new QCheckBox(name, page->parentWidget());
    box->setToolTip(help);
    connect(box, &QCheckBox::clicked, this,
            [this, name, set](bool on) { edit(name, [&](GreyMix &m) { set(m, on); }); });
    m_refreshers.append([box, get](const GreyMix &m) { box->setChecked(get(m)); });
    page->addWidget(box);
    return box;
}

void GreyDetails::addLooks()
{
    QVBoxLayout *page = m_pages->add(tr("Looks"), tr("Starting points"));
    addNumber(page, tr("Strength of the mix"),
              tr("From plain luminance to the whole of the look and what was set since"),
              "strength");
    m_looks = new LooksGallery(m_session, m_jobs, page->parentWidget());
    page->addWidget(m_looks);
    page->addStretch();
}

void GreyDetails::addColours()
{
    QVBoxLayout *page = m_pages->add(tr("Colours"), tr("How light each colour becomes"));
    m_base = new QComboBox(page->parentWidget());
    m_base->addItems({tr("Luminance"), tr("Perceptual lightness"), tr("Average of the channels"),
                      tr("Lightest and darkest"), tr("Red, green, blue")});
    m_base->setAccessibleName(tr("Base of the grey"));
    m_base->setToolTip(tr("What the grey starts from"));
    connect(m_base, &QComboBox::activated, this, [this](int base) {
        edit(
            tr("Base"), [&](GreyMix &m) { m.base = GreyMix::Base(base); }, {},
            m_base->itemText(base));
    });
    page->addWidget(m_base);

    m_blend = new QWidget(page->parentWidget());
    auto *blend = new QVBoxLayout(m_blend);
    blend->setContentsMargins(0, 0, 0, 0);
    blend->setSpacing(7);
    addNumber(blend, tr("Red"), tr("Share of the channel"), "blend.red");
    addNumber(blend, tr("Green"), tr("Share of the channel"), "blend.green");
    addNumber(blend, tr("Blue"), tr("Share of the channel"), "blend.blue");
    addSwitch(
        blend, tr("Keep the total at 100 %"), tr("Scale the three so that white stays white"),
        [](const GreyMix &m) { return m.keepsTotal; },
        [](GreyMix &m, bool on) { m.keepsTotal = on; });
    page->addWidget(m_blend);

    m_hues = new HueCurveEditor(page->parentWidget());
    connect(m_hues, &HueCurveEditor::pointsChanged, this, [this](const auto &points) {
        edit(
            tr("Hue curve"), [&](GreyMix &m) { m.hue = points; }, QStringLiteral("grey-hue"));
    });
    connect(m_hues, &HueCurveEditor::released, this, [this] { m_session.endMerge(); });
    page->addWidget(m_hues);
    Slider::Range width;
    width.least = kLeastHueWidth;
    width.most = 180;
    width.initial = HuePoint().widthDeg;
    width.unit = QStringLiteral("°");
    auto *reach =
        new Slider(tr("Reach of the point"), width,
                   tr("How far around its hue the chosen point works"), page->parentWidget());
    const auto refreshReach = [this, reach](const GreyMix &m) {
        const int chosen = m_hues->chosen();
        reach->setEnabled(chosen >= 0 && chosen < int(m.hue.size()));
        if (reach->isEnabled())
            reach->setAmount(m.hue[size_t(chosen)].widthDeg);
    };
    connect(reach, &Slider::amountChanged, this, [this](double degrees) {
        const int chosen = m_hues->chosen();
        edit(
            tr("Hue curve"),
            [&](GreyMix &m) {
                if (chosen >= 0 && chosen < int(m.hue.size()))
                    m.hue[size_t(chosen)].widthDeg = float(degrees);
            },
            QStringLiteral("grey-reach"));
    });
    connect(reach, &Slider::released, this, [this] { m_session.endMerge(); });
    connect(m_hues, &HueCurveEditor::chosenChanged, this,
            [this, refreshReach] { refreshReach(mix()); });
    m_refreshers.append(refreshReach);
    page->addWidget(reach);

    m_glass = new QComboBox(page->parentWidget());
    m_glass->addItems({tr("No glass"), tr("Yellow glass"), tr("Orange glass"), tr("Red glass"),
                       tr("Green glass"), tr("Blue glass")});
    m_glass->setAccessibleName(tr("Glass before the lens"));
    m_glass->setToolTip(tr("As if a coloured glass had been before the lens"));
    connect(m_glass, &QComboBox::activated, this, [this](int glass) {
        edit(
            tr("Glass"), [&](GreyMix &m) { m.glass = Glass(glass); }, {}, m_glass->itemText(glass));
    });
    page->addWidget(m_glass);
    Slider *thickness = addNumber(page, tr("Strength of the glass"), tr("How dense the glass is"),
                                  "glass.strength");
    addNumber(page, tr("Colour left"), tr("How much of the photo's own colour stays in the grey"),
              "colourLeft");
    m_refreshers.append([this, thickness](const GreyMix &m) {
        m_base->setCurrentIndex(int(m.base));
        m_blend->setVisible(m.base == GreyMix::Base::Blend);
        m_hues->setPoints(m.hue);
        m_glass->setCurrentIndex(int(m.glass));
        thickness->setEnabled(m.glass != Glass::None);
    });
    page->addStretch();
}

void GreyDetails::addTone()
{
    QVBoxLayout *page = m_pages->add(tr("Tone"), tr("Black, white and the contrast between"));
    m_graph = new ToneGraph(page->parentWidget());
    connect(m_graph, &ToneGraph::toneChanged, this, [this](const Tone &tone) {
        edit(
            tr("Tone curve"), [&](GreyMix &m) { m.tone = tone; }, QStringLiteral("grey-tone"));
    });
    connect(m_graph, &ToneGraph::released, this, [this] { m_session.endMerge(); });
    page->addWidget(m_graph);
    m_clipped = new QLabel(page->parentWidget());
    m_clipped->setFont(smallFont());
    page->addWidget(m_clipped);
    m_wholePicture = new QCheckBox(tr("Count the kept parts too"), page->parentWidget());
    m_wholePicture->setToolTip(tr("Off: the graph shows only what stays grey"));
    connect(m_wholePicture, &QCheckBox::clicked, this, &GreyDetails::measureSoon);
    page->addWidget(m_wholePicture);
    addNumber(page, tr("Contrast"), tr("Around the pivot"), "tone.contrast");
    addNumber(page, tr("Pivot"), tr("The lightness that contrast leaves where it is"),
              "tone.pivot");
    addNumber(page, tr("Shadows"), tr("Lift or lower the dark tones"), "tone.shadows");
    addNumber(page, tr("Highlights"), tr("Lift or lower the light tones"), "tone.highlights");
    addNumber(page, tr("Local contrast"), tr("Contrast between neighbouring parts, without halos"),
              "tone.localContrast");
    addNumber(page, tr("Fine contrast"), tr("Contrast of textures"), "tone.fineContrast");
    m_refreshers.append([this](const GreyMix &m) { m_graph->setTone(m.tone); });
    page->addStretch();
}

void GreyDetails::findAuto()
{
    if (!m_session.hasPhoto())
        return;
    m_finding.request_stop();
    m_auto->setEnabled(false);
    m_finding = m_jobs.start(
        tr("Finding the grey…"),
        [levels = m_session.levels(), take = m_session.take()](const Run &) {
            return std::pair(levels, findAutoMix(*levels, *take));
        },
        [this, guard = QPointer<GreyDetails>(this)](const auto &found) {
            if (!guard)
                return;
            m_auto->setEnabled(true);
            if (found.first == m_session.levels()) // still the same photo
                edit(tr("Auto"), [&](GreyMix &m) { m = found.second; });
        });
}

void GreyDetails::togglePin()
{
    m_pinned = m_pinned || !m_session.hasPhoto()
                   ? nullptr
                   : std::make_shared<const GreyMix>(m_session.work().take().grey);
    m_pin->setChecked(m_pinned != nullptr);
    m_pin->setText(m_pinned ? tr("Comparing") : tr("Compare"));
    Q_EMIT pinnedChanged();
}

void GreyDetails::refresh()
{
    if (!m_session.hasPhoto())
        return;
    for (const auto &refresher : m_refreshers)
        refresher(mix());
    if (m_drag.point() >= 0)
        m_hues->choose(m_drag.point());
}

void GreyDetails::measureSoon()
{
    if (m_session.hasPhoto() && isVisible())
        m_measureTimer.start();
}

void GreyDetails::refreshStatistics()
{
    if (m_isMeasuring) {
        m_isStale = true;
        return;
    }
    m_isMeasuring = true;
    m_isStale = false;
    struct Measured {
        std::optional<std::array<float, 360>> hues;
        ToneHistogram tones;
    };
    m_jobs.start(
        {},
        [levels = m_session.levels(), take = m_session.take(), needsHues = m_needsHues,
         whole = m_wholePicture->isChecked()](const Run &) {
            Measured out;
            if (needsHues)
                out.hues = measureHues(*levels);
            out.tones = measureTones(*levels, *take, whole);
            return out;
        },
        [this, guard = QPointer<GreyDetails>(this)](const Measured &measured) {
            if (!guard)
                return;
            m_isMeasuring = false;
            if (measured.hues) {
                m_hues->setHues(*measured.hues);
                m_needsHues = false;
            }
            m_graph->setHistogram(measured.tones);
            const auto text = [this](float share) {
                return locale().toString(double(share) * 100, 'f', 1);
            };
            m_clipped->setText(
                tr("%1 % black, %2 % white  ·  H shows where")
                    .arg(text(measured.tones.clippedBlack), text(measured.tones.clippedWhite)));
            if (m_isStale)
                m_measureTimer.start();
        });
}

} // namespace buttonhole::app
