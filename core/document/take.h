#pragma once

#include "document/local_tone.h"
#include "document/removal.h"
#include "geometry/picture_map.h"
#include "light/mends.h"
#include "mask/keep.h"
#include "tone/grey_mix.h"

#include <memory>

namespace buttonhole
{

/// One version of the work on a photo: plain data, cheap to copy (rasters are shared). The ticket
/// shows it top to bottom, which is the way that light goes.
struct Take {
    std::string name = "Take 1";
    std::vector<Removal> removals;       ///< before all else
    std::vector<AdjustmentLine> prepare; ///< of the photo's light, before the grey
    bool greyOn = true;
    GreyMix grey;
    std::vector<Keep> keeps;
    std::vector<LocalTone> tones;       ///< of the light that grey and keeps make
    Geometry geometry;                  ///< what of that leaves, and which way up
    std::vector<AdjustmentLine> finish; ///< of the whole picture
    uint64_t nextId = 1;                ///< for all with an id; never used twice in a take
    std::string extraJson;              ///< members from a newer version, kept as they are
    std::string greyExtraJson;          ///< the same of the grey mix
    std::string geometryExtraJson;      ///< and of the geometry

    const Keep *findKeep(uint64_t keepId) const;
    const Keep *findKeep(const std::string &keepName) const;
    const LocalTone *findTone(uint64_t toneId) const;
    const Removal *findRemoval(uint64_t removalId) const;
    /// A keep, local tone or removal.
    const MaskedLine *findMasked(uint64_t lineId) const;
    const AdjustmentLine *findLine(uint64_t lineId) const; ///< of prepare or finish
    void visitMasks(const std::function<void(const Mask &)> &visit) const;
    void visitPlanes(const std::function<void(const MaskPlane &)> &visit) const;
};

/// Which parts of two takes look different: their names, ids and folding in the ticket do not
/// count.
struct TakeChange {
    bool prepare = false;
    bool grey = false;
    bool keeps = false;
    bool tones = false;
    bool geometry = false;
    bool finish = false;

    static TakeChange all() { return {true, true, true, true, true, true}; }
    /// What grey and kept parts look like, before tones and finish.
    bool ofPicture() const { return prepare || grey || keeps; }
};
TakeChange changeBetween(const Take &before, const Take &after);

/// A new take as the window starts with: everything grey, one empty keep waiting.
Take makeTake();

/// Says whether a keep or tone that is on has a soft edge: see softEdgesReady().
bool hasSoftEdges(const Take &take);

/// What undo goes back and forth over: all takes of a photo and which one is worked on.
struct Work {
    std::vector<std::shared_ptr<const Take>> takes;
    size_t current = 0;

    const Take &take() const { return *takes[current]; }
    /// The same work with the current take replaced.
    Work with(Take take) const;
};

Work makeWork();
/// As work on a photo begins: a raw photo's headroom is taken back by its exposure, so that it
/// looks as the camera meant it and nothing is lost.
Work makeWork(const Photo &photo);
/// The same work on a photo that has more headroom now than when the work began.
Work withHeadroom(Work work, float moreEv);

// Edits: pure functions from a take to the next. Ids that are not there leave it unchanged.
/// Of a keep, local tone or removal.
Take withMasked(Take take, uint64_t lineId, const std::function<void(MaskedLine &)> &change);
Take withKeep(Take take, uint64_t keepId, const std::function<void(Keep &)> &change);
Take withTone(Take take, uint64_t toneId, const std::function<void(LocalTone &)> &change);
/// Appends a local tone, with ids of its own; without a name, "Local n" with the first n that is
/// free.
Take withNewTone(Take take, LocalTone tone, uint64_t *toneId = nullptr);
Take withoutTone(Take take, uint64_t toneId);
/// A copy of a tone behind it; a tone at another place: as withCopyOfKeep() and withKeepAt().
Take withCopyOfTone(Take take, uint64_t toneId, uint64_t *newId = nullptr);
Take withToneAt(Take take, uint64_t toneId, int index);
/// The same of removals, "Removal n".
Take withRemoval(Take take, uint64_t removalId, const std::function<void(Removal &)> &change);
Take withNewRemoval(Take take, Removal removal = {}, uint64_t *removalId = nullptr);
Take withoutRemoval(Take take, uint64_t removalId);
/// The same of a line of prepare or finish.
Take withLine(Take take, uint64_t lineId, const std::function<void(AdjustmentLine &)> &change);
Take withoutLine(Take take, uint64_t lineId);
/// The first line of the finish of that kind set so, or a new one behind all.
Take withFinished(Take take, const AdjustmentRef &adjustment, uint64_t *lineId = nullptr);
/// The lens's distortion, as far as it is to be taken out.
Radial distortionOf(const Take &take);
/// Photo space and picture space of a take of a photo of that size.
PictureMap pictureOf(const Take &take, int photoWidth, int photoHeight);
/// With its crop brought into what is filled, however the photo is levelled now.
Take withFilledCrop(Take take, int photoWidth, int photoHeight);
/// What prepares the photo, of a registered kind; as one begins where there is no line of it.
AdjustmentRef preparedBy(const Take &take, std::string_view kind);
/// The spots that are mended.
const std::vector<SpotMend> &mendsOf(const Take &take);
Take withMends(Take take, std::vector<SpotMend> mends);
/// With all spots mended that are found and not mended yet. Errors: Cancelled.
Result<Take> withFoundSpots(Take take, const PhotoLevels &levels, const Run &run = {});
/// With what autoLight() says of a photo.
Take withAutoLight(Take take, const PhotoLevels &levels);
/// The line of that kind set so, made if there is none, in the order of the kinds' table; what
/// changes nothing needs no line.
Take withPrepared(Take take, const AdjustmentRef &adjustment);
// Of the steps of a keep, local tone or removal.
Take withStep(Take take, uint64_t lineId, uint64_t stepId,
              const std::function<void(Step &)> &change);
/// Appends a step; `stepId` receives its id.
Take withNewStep(Take take, uint64_t lineId, Sign sign, std::shared_ptr<const StepShape> shape,
                 uint64_t *stepId = nullptr);
/// Moves a step to another place, counted without it, within its line or into another; beyond the
/// ends is at the end.
Take withStepAt(Take take, uint64_t lineId, uint64_t stepId, uint64_t toLineId, int index);
/// A copy of a step at the end of a line; `newId` receives its id.
Take withCopyOfStep(Take take, uint64_t lineId, uint64_t stepId, uint64_t toLineId,
                    uint64_t *newId = nullptr);
Take withoutStep(Take take, uint64_t lineId, uint64_t stepId);
/// The mask is empty then, also where it was everything but its steps; the rest stays.
Take withoutSteps(Take take, uint64_t lineId);

/// Appends an empty keep; without a name, "Keep n" with the first n that is free.
Take withNewKeep(Take take, std::string name = {}, uint64_t *keepId = nullptr);
/// A copy of a keep behind it, its steps with new ids.
Take withCopyOfKeep(Take take, uint64_t keepId, uint64_t *newId = nullptr);
Take withoutKeep(Take take, uint64_t keepId);
/// Moves a keep to another place, counted without it; beyond the ends is at the end.
Take withKeepAt(Take take, uint64_t keepId, int index);

} // namespace buttonhole
