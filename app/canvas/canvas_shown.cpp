// Which take and which part of the photo the canvas shows: as worked on, or as a hand asks for.
#include "canvas/canvas.h"

#include "light/fine_light.h"

namespace buttonhole::app
{

void Canvas::setInColour(bool shows)
{
    if (m_isInColour == shows)
        return;
    m_isInColour = shows;
    showAnew();
}

void Canvas::setShowsSharpness(bool shows)
{
    if (m_showsSharpness == shows)
        return;
    m_showsSharpness = shows;
    showAnew();
}

void Canvas::showAnew()
{
    if (!m_session.hasPhoto())
        return;
    m_tiles.setTake(shownTake(), {});
    refresh(rect());
}

void Canvas::addHand(Hand &hand)
{
    m_hands.append(&hand);
    connect(&hand, &Hand::changed, this, [this] {
        if (m_session.hasPhoto() && shownPicture() != m_transform.picture())
            followPicture();
        refreshLook();
    });
}

Hand *Canvas::activeHand() const
{
    const auto at = std::find_if(m_hands.begin(), m_hands.end(),
                                 [](const Hand *hand) { return hand->isActive(); });
    return at == m_hands.end() ? nullptr : *at;
}

PictureMap Canvas::shownPicture() const
{
    const Hand *hand = activeHand();
    if (!hand || !hand->showsWhole())
        return m_session.picture();
    Take whole = *m_session.take();
    whole.geometry.crop = m_session.levels()->photo().rect();
    return buttonhole::pictureOf(*m_session.levels(), whole);
}

void Canvas::followPicture()
{
    startTiles();
    updateMount();
    m_stitch = {};
    renderSeen(); // at once, while an angle is dragged
    viewMoved();
}

/// What is to be taken out and is not yet, or a local tone that does nothing yet: nothing but its
/// mask shows where it is.
bool Canvas::isUnseen() const
{
    if (const Removal *removal = m_session.removal())
        return !removal->patch || removal->isStale();
    const LocalTone *tone = m_session.tone();
    return tone && std::all_of(tone->effects.begin(), tone->effects.end(),
                               [](const AdjustmentRef &effect) { return effect->isOff(); });
}

View Canvas::shownView() const
{
    return isUnseen() && m_seen.view == View::Result ? View::Tinted : m_seen.view;
}

/// The mask of a line that is no keep's stands where keeps would.
bool Canvas::showsOtherMask() const
{
    return m_session.masked() && !m_session.keep() && shownView() != View::Result &&
           shownView() != View::Original;
}

Keep Canvas::withMaskOf(const MaskedLine &line)
{
    Keep out;
    static_cast<MaskedLine &>(out) = line;
    out.strength = 1;
    return out;
}

std::shared_ptr<const Take> Canvas::shownTake() const
{
    const Keep *only = m_session.keep();
    const bool showsOne = m_seen.showsOneKeep() && only;
    const bool showsOther = showsOtherMask();
    const Hand *hand = activeHand();
    const bool showsWhole = hand && hand->showsWhole();
    if (!showsOne && !showsOther && !showsWhole && !m_isInColour && !m_showsSharpness)
        return m_session.take();
    auto take = std::make_shared<Take>(*m_session.take());
    if (showsOne)
        for (Keep &keep : take->keeps)
            keep.on = keep.on && keep.id == only->id;
    if (showsOther) {
        take->keeps = {withMaskOf(*m_session.masked())};
        take->keeps[0].on = true;
        take->greyOn = take->greyOn && !m_session.removal();
    }
    if (showsWhole)
        take->geometry.crop = m_session.levels()->photo().rect();
    if (m_isInColour || m_showsSharpness) {
        take->greyOn = false;
        take->keeps.clear(); // their looks, too
        take->tones.clear();
        take->finish.clear();
    }
    if (m_showsSharpness)
        for (AdjustmentLine &line : take->prepare)
            if (const auto *own =
                    dynamic_cast<const NumberAdjustment<Sharpness> *>(line.adjustment.get()))
                line.adjustment = std::make_shared<const NumberAdjustment<SharpnessMask>>(
                    SharpnessMask{own->values()});
    return take;
}

} // namespace buttonhole::app
