#include "subject/found_subjects.h"

#include "subject/net_picture.h"
#include "subject/salient.h"
#include "subject/subject_solver.h"

#include <opencv2/imgproc.hpp>

#include <cmath>
#include <fstream>

namespace buttonhole
{

namespace
{

constexpr float kLeastScore = 0.40F;
constexpr double kAtBorder = 0.04; ///< boxes that end this near the photo's border go on to it

/// Class indices from..to of the list belong together.
SubjectGroup groupOf(int kind)
{
    constexpr int kLastVehicle = 8;
    constexpr int kFirstAnimal = 14;
    constexpr int kLastAnimal = 23;
    return kind == 0                                     ? SubjectGroup::People
           : kind <= kLastVehicle                        ? SubjectGroup::Vehicles
           : kind >= kFirstAnimal && kind <= kLastAnimal ? SubjectGroup::Animals
                                                         : SubjectGroup::Things;
}

Result<std::vector<std::string>> readWords()
{
    const auto place = findModel("coco80.txt");
    if (!place)
        return place.error();
    std::ifstream in(*place);
    std::vector<std::string> words;
    for (std::string line; std::getline(in, line);)
        words.push_back(line);
    constexpr size_t kWords = 80;
    if (words.size() != kWords)
        return Error{ErrorKind::Damaged, *place, "80 lines are expected"};
    return words;
}

/// Boxes are a little tight: with some room, and to the border of the photo where it is near.
Rect loosened(const Rect &box, const Rect &photo)
{
    constexpr double kSlack = 0.04;
    Rect out = enlarged(box, kSlack, photo);
    const int x = int(photo.x1 * kAtBorder);
    const int y = int(photo.y1 * kAtBorder);
    out.x0 = out.x0 < x ? 0 : out.x0;
    out.y0 = out.y0 < y ? 0 : out.y0;
    out.x1 = out.x1 > photo.x1 - x ? photo.x1 : out.x1;
    out.y1 = out.y1 > photo.y1 - y ? photo.y1 : out.y1;
    return out;
}

/// Px of a small picture of a part of the photo as px of the photo.
Rect inPhoto(float x0, float y0, float x1, float y1, const NetPicture &picture, const Rect &part)
{
    const float sx = float(part.width()) / float(picture.width);
    const float sy = float(part.height()) / float(picture.height);
    return intersected(part,
                       {part.x0 + int(std::floor(x0 * sx)), part.y0 + int(std::floor(y0 * sy)),
                        part.x0 + int(std::ceil(x1 * sx)), part.y0 + int(std::ceil(y1 * sy))});
}

/// What the detector is shown: the whole photo, and four parts that overlap, in which what is small
/// is larger.
std::vector<Rect> looksAt(const Rect &photo)
{
    constexpr double kShare = 0.6; // of the photo's width and height
    std::vector<Rect> out{photo};
    if (std::max(photo.x1, photo.y1) < 2 * kDetectorSide) // nothing to be gained
        return out;
    const int w = int(photo.x1 * kShare);
    const int h = int(photo.y1 * kShare);
    for (const int y : {0, photo.y1 - h})
        for (const int x : {0, photo.x1 - w})
            out.push_back({x, y, x + w, y + h});
    return out;
}

/// Ends where the part does, but the photo goes on.
bool isCutOff(const Rect &box, const Rect &part, const Rect &photo)
{
    constexpr int kNear = 50; // a part of its width and height
    const int x = part.width() / kNear;
    const int y = part.height() / kNear;
    return (part.x0 > photo.x0 && box.x0 < part.x0 + x) ||
           (part.y0 > photo.y0 && box.y0 < part.y0 + y) ||
           (part.x1 < photo.x1 && box.x1 > part.x1 - x) ||
           (part.y1 < photo.y1 && box.y1 > part.y1 - y);
}

/// Seen in two looks: the same, or a piece of it.
bool isSame(const Rect &a, const Rect &b)
{
    constexpr double kMost = 0.7; // of the smaller
    return double(intersected(a, b).area()) > kMost * double(std::min(a.area(), b.area()));
}

struct Thing {
    NetBox found;
    Rect box; ///< px of the photo
    size_t look = 0;
};

/// The surest first; of what was seen twice only that.
void dropRepeated(std::vector<Thing> &things)
{
    std::stable_sort(things.begin(), things.end(),
                     [](const Thing &a, const Thing &b) { return a.found.score > b.found.score; });
    std::vector<Thing> kept;
    for (const Thing &thing : things)
        if (std::none_of(kept.begin(), kept.end(), [&](const Thing &other) {
                return other.found.kind == thing.found.kind && other.look != thing.look &&
                       isSame(other.box, thing.box);
            }))
            kept.push_back(thing);
    things = std::move(kept);
}

Result<void> findThings(const NetsApi &nets, const PhotoLevels &levels, const Run &run,
                        std::vector<FoundSubject> &out)
{
    constexpr size_t kMostThings = 40; // more are a pattern, or a crowd
    const auto model = findModel("nanodet_g_416.onnx");
    if (!model)
        return model.error();
    const auto words = readWords();
    if (!words)
        return words.error();
    const Rect photo = levels.photo().rect();
    const std::vector<Rect> looks = looksAt(photo);
    std::vector<Thing> things;
    for (size_t i = 0; i < looks.size(); ++i) {
        const NetPicture picture = readNetPicture(levels, looks[i], kDetectorSide);
        if (run.stopped())
            return Error{ErrorKind::Cancelled, "subjects", {}};
        const auto boxes = nets.detect(*model, picture, kLeastScore);
        if (!boxes)
            return boxes.error();
        for (const NetBox &each : *boxes) {
            const Rect box = inPhoto(each.x0, each.y0, each.x1, each.y1, picture, looks[i]);
            if (!box.isEmpty() && !isCutOff(box, looks[i], photo))
                things.push_back({each, box, i});
        }
        run.report(0.1F + 0.6F * float(i + 1) / float(looks.size()));
    }
    dropRepeated(things);
    things.resize(std::min(things.size(), kMostThings));
    for (const auto &[found, box, look] : things)
        out.push_back({groupOf(found.kind),
                       (*words)[size_t(found.kind)],
                       found.score,
                       loosened(box, photo),
                       {}});
    return {};
}

/// Both of a face, or what is seen of them, as one; nothing where none or too many are.
/// @param face the cascade's square, px of the photo
std::optional<FoundSubject> eyesOf(const NetsApi &nets, const PhotoLevels &levels, const Rect &face)
{
    constexpr int kFaceEdge = 240;
    const Rect upper{face.x0, face.y0, face.x1, face.y0 + face.height() * 3 / 5};
    const NetPicture close = readNetPicture(levels, upper, kFaceEdge);
    const auto eyes =
        nets.cascade(BUTTONHOLE_CASCADES "/haarcascade_eye.xml", close, close.width / 8, 0);
    if (!eyes || eyes->empty() || eyes->size() > 2) // noses and mouths are taken for eyes
        return std::nullopt;
    FoundSubject both{SubjectGroup::Eyes, "eyes", 0, {}, {}};
    for (const Rect &eye : *eyes) {
        // An eye is about two thirds as wide as what the cascade takes for one, and half as high.
        const auto w = float(eye.width());
        const auto h = float(eye.height());
        const Rect oval = inPhoto(float(eye.x0) + w / 6, float(eye.y0) + h / 4,
                                  float(eye.x1) - w / 6, float(eye.y1) - h / 4, close, upper);
        both.ovals.push_back(oval);
        both.box = united(both.box, enlarged(oval, 0.15, levels.photo().rect()));
    }
    return both;
}

/// Faces in a part of the photo that are new, and the eyes of each.
/// @param longEdge px at which the part is looked at @param leastShare times a face goes into it
/// @param leastWeight of the cascade's last stage
void findFacesIn(const NetsApi &nets, const PhotoLevels &levels, const Rect &part, int longEdge,
                 int leastShare, double leastWeight, std::vector<FoundSubject> &out)
{
    const NetPicture picture = readNetPicture(levels, part, longEdge);
    const auto faces =
        nets.cascade(BUTTONHOLE_CASCADES "/haarcascade_frontalface_default.xml", picture,
                     std::max(picture.width, picture.height) / leastShare, leastWeight);
    if (!faces)
        return;
    const Rect photo = levels.photo().rect();
    for (const Rect &face : *faces) {
        const Rect at =
            inPhoto(float(face.x0), float(face.y0), float(face.x1), float(face.y1), picture, part);
        // The cascade's square ends at the brows; chin and forehead belong to a face.
        const Rect shape = intersected(photo, {at.x0 + at.width() / 12, at.y0 - at.height() / 6,
                                               at.x1 - at.width() / 12, at.y1 + at.height() / 8});
        const auto isKnown = [&](const FoundSubject &other) {
            return other.group == SubjectGroup::Faces && isSame(other.ovals.front(), shape);
        };
        if (std::any_of(out.begin(), out.end(), isKnown))
            continue;
        out.push_back({SubjectGroup::Faces, "face", 0, enlarged(shape, 0.1, photo), {shape}});
        if (auto eyes = eyesOf(nets, levels, at))
            out.push_back(std::move(*eyes));
    }
}

/// On people, in the whole photo and in the upper part of each; where there are none, what surely
/// is one: much else is taken for faces. Without the cascades there are none.
void findFaces(const NetsApi &nets, const PhotoLevels &levels, const Run &run,
               std::vector<FoundSubject> &out)
{
    constexpr int kPhotoEdge = 1280; // px
    constexpr int kInPhoto = 25;     // faces to the edge, at most
    constexpr int kPersonEdge = 480;
    constexpr int kInPerson = 8;
    constexpr double kUpper = 0.4;    // of a person
    constexpr double kOfPerson = 2.5; // below it half are folds, leaves and stones
    constexpr double kOfNobody = 6;
    const std::vector<FoundSubject> found = out; // that grows
    const auto isPerson = [](const FoundSubject &each) {
        return each.group == SubjectGroup::People;
    };
    const bool isAnybody = std::any_of(found.begin(), found.end(), isPerson);
    findFacesIn(nets, levels, levels.photo().rect(), kPhotoEdge, kInPhoto,
                isAnybody ? kOfPerson : kOfNobody, out);
    const auto isOnNobody = [&](const FoundSubject &each) {
        return !each.ovals.empty() && // a face, or its eyes
               std::none_of(found.begin(), found.end(), [&](const FoundSubject &other) {
                   return isPerson(other) && isSame(each.box, other.box);
               });
    };
    if (isAnybody)
        std::erase_if(out, isOnNobody);
    for (const FoundSubject &each : found) {
        if (run.stopped())
            return;
        Rect upper = each.box;
        upper.y1 = upper.y0 + int(upper.height() * kUpper);
        if (isPerson(each) && !upper.isEmpty())
            findFacesIn(nets, levels, upper, kPersonEdge, kInPerson, kOfPerson, out);
    }
}

/// The photo's part that `part` of a raster over it shows, with room round it.
Rect looselyRound(const cv::Rect &part, cv::Size size, const Rect &photo)
{
    constexpr double kSlack = 0.1;
    const double sx = double(photo.width()) / size.width;
    const double sy = double(photo.height()) / size.height;
    const Rect tight{int(part.x * sx), int(part.y * sy), int(std::ceil(part.br().x * sx)),
                     int(std::ceil(part.br().y * sy))};
    return enlarged(tight, kSlack, photo);
}

} // namespace

/// What stands out in the whole photo, together and, where it is several things, each. Where the
/// net is not sure of it, or is missing, the whole photo is looked at when it is asked for.
Result<std::vector<FoundSubject>> findMainSubjects(const PhotoLevels &levels, const Run &run)
{
    constexpr size_t kMostParts = 6; // more are a pattern
    const Rect photo = levels.photo().rect();
    std::vector<FoundSubject> out{{SubjectGroup::Main, "main subject", 0, photo, {}}};
    const auto found = findSalient(levels, photo, run);
    if (!found && found.error().kind == ErrorKind::Cancelled)
        return found.error();
    if (!found || !found->isAnswer)
        return out;
    const cv::Size size(found->inside.width(), found->inside.height());
    const std::vector<cv::Rect> parts = partsOfAnswer(*found);
    cv::Rect all;
    for (const cv::Rect &part : parts)
        all |= part;
    if (all.empty())
        return out;
    out.back().box = looselyRound(all, size, photo);
    if (parts.size() > 1 && parts.size() <= kMostParts)
        for (const cv::Rect &part : parts)
            out.push_back(
                {SubjectGroup::Main, "part of it", 0, looselyRound(part, size, photo), {}});
    return out;
}

Result<std::vector<FoundSubject>> findOtherSubjects(const PhotoLevels &levels, const Run &run)
{
    const auto nets = loadNets();
    if (!nets)
        return nets.error();
    std::vector<FoundSubject> out;
    run.report(0.1F);
    if (auto found = findThings(**nets, levels, run, out); !found)
        return found.error();
    findFaces(**nets, levels, run, out);
    if (run.stopped())
        return Error{ErrorKind::Cancelled, "subjects", {}};
    return out;
}

Result<std::vector<FoundSubject>> findSubjects(const PhotoLevels &levels, const Run &run)
{
    auto out = findMainSubjects(levels, run);
    if (!out)
        return out;
    auto others = findOtherSubjects(levels, run);
    if (!others)
        return others;
    std::move(others->begin(), others->end(), std::back_inserter(*out));
    return out;
}

Result<std::vector<EdgeLine>> outlineOf(const PhotoLevels &levels, const FoundSubject &found,
                                        const Run &run)
{
    constexpr int kFineEdge = 1600; ///< px of the photo's long edge, fine enough to be pointed at
    int level = 0;
    while (level + 1 < levels.count() &&
           std::max(levels.rectOf(level).x1, levels.rectOf(level).y1) > kFineEdge)
        ++level;
    RegionAsk ask;
    ask.box = found.box;
    const auto plane = SubjectSolver().solve(levels, ask, {{}, found.ovals, {}, {}}, run, level);
    if (!plane)
        return plane.error();
    const Rect area = levels.rectOf(level);
    cv::Mat mask(area.height(), area.width(), CV_16UC1);
    plane->readReduced(level, area, mask.ptr<uint16_t>(), size_t(area.width()));
    cv::GaussianBlur(mask, mask, {0, 0}, 1); // the stairs of its pixels would show
    cv::copyMakeBorder(mask, mask, 1, 1, 1, 1, cv::BORDER_CONSTANT); // lines close along the border
    auto lines = traceEdge(mask.ptr<uint16_t>(), mask.cols, mask.rows);
    std::erase_if(lines, [](const EdgeLine &line) {
        constexpr size_t kSpeck = 24;
        return line.points.size() < kSpeck;
    });
    for (EdgeLine &line : lines)
        for (EdgePoint &point : line.points)
            point = {(point.x - 1) * float(1 << level), (point.y - 1) * float(1 << level)};
    return lines;
}

std::string groupWord(SubjectGroup group)
{
    constexpr const char *kWords[] = {"main subject", "people", "animals", "vehicles",
                                      "things",       "faces",  "eyes"};
    return kWords[size_t(group)];
}

} // namespace buttonhole
