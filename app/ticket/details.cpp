#include "ticket/details.h"

#include "commands/move_words.h"
#include "commands/number_words.h"
#include "commands/step_words.h"
#include "controls/menu_button.h"
#include "controls/slider.h"
#include "document/look_starts.h"
#include "prepare/removal_details.h"
#include "style/theme.h"
#include "ticket/adjustment_details.h"
#include "ticket/signature_panel.h"
#include "ticket/step_details.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

namespace buttonhole::app
{

Details::Details(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_title(new QLabel(this)), m_text(new QLabel(this)),
      m_keepPart(new QWidget(this)), m_stepPart(new StepDetails(session, this)),
      m_signaturePart(new SignaturePanel(session, jobs, this)),
      m_adjustmentPart(new AdjustmentDetails(session, this)),
      m_removalPart(new RemovalDetails(session, jobs, this))
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 10, 16, 8);
    layout->setSpacing(8);
    m_title->setFont(titleFont());
    m_text->setWordWrap(true);
    for (QLabel *each : {m_title, m_text}) // words may come out of a file
        each->setTextFormat(Qt::PlainText);
    layout->addWidget(m_title);
    layout->addWidget(m_text);
    layout->addWidget(m_keepPart);
    layout->addWidget(m_stepPart);
    layout->addWidget(m_signaturePart);
    layout->addWidget(m_adjustmentPart);
    layout->addWidget(m_removalPart);
    layout->addStretch();
    addKeepControls();
    connect(&m_session, &Session::lineChanged, this, &Details::refresh);
    connect(&m_session, &Session::historyChanged, this, &Details::refresh);
    refresh();
}

void Details::addKeepControls()
{
    auto *layout = new QVBoxLayout(m_keepPart);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(10);
    m_name = new QLineEdit(m_keepPart);
    m_name->setProperty("title", true);
    m_name->setAccessibleName(tr("Name of the keep"));
    m_name->setToolTip(tr("Name of the keep; click or F2 to change it"));
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const Keep *keep = m_session.keep();
        const std::string name = m_name->text().trimmed().toStdString();
        if (!keep || name.empty() || name == keep->name)
            return;
        m_session.edit(ofMask(m_session, tr("Name")),
                       withKeep(*m_session.take(), keep->id, [&](Keep &k) { k.name = name; }), {},
                       {0, 0, 1, 1});
    });
    layout->addWidget(m_name);

    addNumber(tr("Strength"), tr("How much of the colour comes back"), "strength");
    m_pairs = new QGridLayout;
    m_pairs->setHorizontalSpacing(14);
    layout->addLayout(m_pairs);
    addNumber(tr("Feather"), tr("How softly the mask's edge fades, px of the photo"), "featherPx");
    addNumber(tr("Grow"), tr("Moves the mask's edge outwards, or inwards below 0, px of the photo"),
              "growPx");
    m_softEdge = addNumber(
        tr("Soft edge"),
        tr("So far to either side the edge is found anew in the photo, with hair, fuzz and blur"),
        "softEdgePx");
    addNumber(tr("Spill"),
              tr("Edges take the subject's own colour, not what spilt in from behind it"), "spill");
    addNumber(tr("Drop specks"), tr("Parts of the mask up to this long are left out"), "specksPx");
    addNumber(tr("Fill holes"), tr("Holes in the mask up to this long are closed"), "holesPx");

    m_invert = new QCheckBox(tr("Everything but this"), m_keepPart);
    m_invert->setToolTip(tr("Keep the colour of all that is not in the mask"));
    connect(m_invert, &QCheckBox::clicked, this, [this] { m_session.invertLine(); });
    m_softFound = new QCheckBox(tr("Soft edge from the photo's own blur"), m_keepPart);
    m_softFound->setToolTip(
        tr("The edge gets as soft as the photo is blurred there. For masks that "
           "are right to a pixel or two"));
    connect(m_softFound, &QCheckBox::clicked, this, [this](bool on) {
        if (const Keep *keep = m_session.keep())
            m_session.edit(
                ofMask(m_session, on ? tr("Soft edge by blur") : tr("Soft edge by width")),
                withKeep(*m_session.take(), keep->id, [&](Keep &k) { k.softEdgeFound = on; }));
    });
    layout->addWidget(m_softFound);
    layout->addWidget(m_invert);
    addLook();
    m_thumbnail = new QLabel(m_keepPart);
    m_thumbnail->setToolTip(tr("What this keep alone keeps in colour"));
    m_thumbnail->setAccessibleName(tr("Picture of the keep"));
    m_thumbnail->hide();
    layout->addWidget(m_thumbnail);
}

/// A head, and below it sliders side by side.
QGridLayout *Details::addPairs(const QString &head, QWidget *beside)
{
    auto *title = new QLabel(head, m_keepPart);
    title->setFont(titleFont());
    auto *row = new QHBoxLayout;
    row->addWidget(title);
    row->addStretch();
    if (beside)
        row->addWidget(beside);
    auto *pairs = new QGridLayout;
    pairs->setHorizontalSpacing(14);
    pairs->setVerticalSpacing(8);
    auto *layout = static_cast<QVBoxLayout *>(m_keepPart->layout());
    layout->addLayout(row);
    layout->addLayout(pairs);
    return pairs;
}

/// Ready starts of its colour; they set the sliders.
QWidget *Details::makeLookStarts()
{
    auto *button = makeAccentButton(QStringLiteral("lookStarts"), tr("Starts"),
                                    tr("Sets the sliders of its colour"), m_keepPart);
    auto *menu = new QMenu(button);
    menu->setObjectName(QStringLiteral("lookMenu"));
    const auto offer = [&](const char *start, const QString &name) {
        menu->addAction(name, this, [this, start, name] { startLook(start, name); })
            ->setObjectName(QLatin1String(start));
    };
    offer("plain", tr("As it is"));
    menu->addSeparator();
    offer("muted", tr("Muted"));
    offer("bleached", tr("Bleached"));
    offer("handTinted", tr("Hand-tinted"));
    offer("enriched", tr("Enriched"));
    offer("evened", tr("Hues evened"));
    menu->addSeparator();
    menu->addAction(tr("Match a colour..."), this, &Details::matchColour)
        ->setObjectName(QStringLiteral("match"));
    openBelow(button, menu);
    return button;
}

void Details::startLook(const char *start, const QString &name)
{
    const Keep *keep = m_session.keep();
    if (!keep)
        return;
    if (auto made = withLookStart(*m_session.take(), *m_session.levels(), keep->id, start))
        m_session.edit(ofMask(m_session, name), std::move(*made));
}

/// Also one of another picture on the screen: the dialog can pick there.
void Details::matchColour()
{
    auto *dialog = new QColorDialog(window());
    dialog->setOption(QColorDialog::DontUseNativeDialog);
    dialog->setWindowTitle(tr("The colour that it should have"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QColorDialog::colorSelected, this, [this](const QColor &colour) {
        const Keep *keep = m_session.keep();
        const auto mean = keep ? meanColour(*m_session.levels(), *keep) : std::nullopt;
        if (!mean)
            return;
        const ColourLook look =
            matchedLook(*mean, oklabOfSrgb(colour.redF(), colour.greenF(), colour.blueF()));
        m_session.edit(ofMask(m_session, tr("Colour matched")),
                       withKeep(*m_session.take(), keep->id, [&](Keep &k) { k.look = look; }));
    });
    dialog->open();
}

void Details::addGlow()
{
    m_pairs = addPairs(tr("Glow behind it"));
    addNumber(tr("Glow"), tr("Light round it, never over it"), "glow.strength");
    addNumber(tr("Size"), tr("How far it spreads, px of the photo"), "glow.sizePx");
    addNumber(tr("Own colour"), tr("How much of it is its own light; the rest is of the hue"),
              "glow.ownColour");
    addNumber(tr("Hue"), tr("Of the light that is not its own"), "glow.hueDeg");
    addNumber(tr("Only lightens"), tr("Lifts what is darker instead of adding to all"),
              "glow.lightens");
}

void Details::addLook()
{
    m_pairs = addPairs(tr("Its colour"), makeLookStarts());
    addNumber(tr("Hue shift"), tr("Turns every hue of the keep"), "look.hueShiftDeg");
    addNumber(tr("Saturation"), tr("Mute it to a pastel, or enrich it"), "look.saturation");
    addNumber(tr("Lightness"), tr("Lighter or darker; black and white stay"), "look.lightness");
    addNumber(tr("Warmth"), tr("Towards amber, or blue below 0"), "look.warmth");
    addNumber(tr("Tint"), tr("Gives it a colour of its own, even where it is neutral"),
              "look.tint");
    addNumber(tr("Tint's hue"), tr("The hue of the tint"), "look.tintHueDeg");
    addNumber(tr("Stray hues"), tr("How far hues are pulled in that stray"), "look.stray");
    addNumber(tr("Towards"), tr("The photo's hue that they stray from"), "look.strayHueDeg");
    addNumber(tr("Beyond"), tr("How far a hue may lie from it"), "look.strayRangeDeg");
    addGlow();
}

/// A slider for one number of the selected keep, by its row in keepParams().
Slider *Details::addNumber(const QString &name, const QString &help, const char *id)
{
    const Param<Keep> &param = paramNamed(keepParams(), id);
    auto *slider = new Slider(name, Slider::Range::of(param), help, m_keepPart);
    slider->setObjectName(QString::fromLatin1(id));
    connect(slider, &Slider::amountChanged, this, [this, name, slider, &param](double amount) {
        const Keep *keep = m_session.keep();
        if (keep)
            m_session.edit(
                ofMask(m_session, name, slider->valueText()),
                withKeep(*m_session.take(), keep->id,
                         [&](Keep &k) { param.of(k) = float(amount / param.scale.factor); }),
                QStringLiteral("%1-%2").arg(QLatin1String(param.id)).arg(keep->id));
    });
    connect(slider, &Slider::released, this, [this] { m_session.endMerge(); });
    if (m_pairs)
        m_pairs->addWidget(slider, m_pairs->count() / 2, m_pairs->count() % 2);
    else
        m_keepPart->layout()->addWidget(slider);
    m_numbers.append({slider, &param});
    return slider;
}

void Details::startRenaming()
{
    m_name->setFocus();
    m_name->selectAll();
}

void Details::startSigning()
{
    m_signaturePart->startTyping();
}

void Details::setThumbnail(const QImage &picture)
{
    m_thumbnail->setVisible(!picture.isNull());
    if (picture.isNull())
        return;
    constexpr QSize kRoom(268, 112);
    const double ratio = devicePixelRatioF();
    QPixmap shown = QPixmap::fromImage(
        picture.scaled(kRoom * ratio, Qt::KeepAspectRatio, Qt::SmoothTransformation));
    shown.setDevicePixelRatio(ratio);
    m_thumbnail->setPixmap(shown);
}

void Details::refresh()
{
    const Keep *keep = m_session.keep();
    const Step *step = m_session.step();
    const bool isKeep =
        m_session.hasPhoto() && keep && m_session.line().kind == TicketLine::Kind::Keep;
    m_keepPart->setVisible(isKeep);
    m_stepPart->setVisible(step != nullptr);
    const bool isLine = m_session.hasPhoto() && !step;
    const LocalTone *tone = isLine ? m_session.tone() : nullptr;
    const Removal *removal = isLine ? m_session.removal() : nullptr;
    const AdjustmentLine *adjustment = m_session.hasPhoto() ? m_session.adjustment() : nullptr;
    m_adjustmentPart->setVisible(tone || adjustment);
    m_signaturePart->setVisible(adjustment && adjustment->adjustment->kind() == Signature::kKind);
    m_removalPart->setVisible(removal);
    m_title->setVisible(!isKeep);
    m_text->setVisible(!isKeep);
    if (!m_session.hasPhoto()) {
        m_title->clear();
        m_text->clear();
        return;
    }
    if (step) {
        m_title->setText(titleOf(*step));
        if (!step->shape->isUnderstood())
            m_text->setText(summaryOf(*step->shape));
        m_text->setVisible(!step->shape->isUnderstood());
        m_stepPart->refresh();
        return;
    }
    if (removal) {
        m_title->setText(QString::fromStdString(removal->name));
        m_text->hide();
        m_removalPart->refresh();
        return;
    }
    if (tone || adjustment) {
        m_title->setText(tone ? QString::fromStdString(tone->name)
                              : kindWord(adjustment->adjustment->kind()));
        m_text->hide();
        m_signaturePart->refresh();
        m_adjustmentPart->refresh();
        return;
    }
    if (isKeep) {
        if (!m_name->hasFocus())
            m_name->setText(QString::fromStdString(keep->name));
        for (const Bound &bound : m_numbers)
            bound.slider->setAmount(double(bound.param->get(*keep)) * bound.param->scale.factor);
        m_softFound->setChecked(keep->softEdgeFound);
        m_softEdge->setEnabled(!keep->softEdgeFound);
        m_invert->setChecked(keep->invert);
        return;
    }
}

} // namespace buttonhole::app
