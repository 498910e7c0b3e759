#pragma once

#include "export/export.h"

#include <optional>
#include <string>
#include <string_view>

namespace buttonhole
{

/// How large a picture leaves, with its frame; never enlarged.
struct SizeRule {
    enum class Kind {
        Own,        ///< as it is
        LongEdge,   ///< `amount` px
        Megapixels, ///< `amount`
        Percent,    ///< `amount`
        Within      ///< a box of `width` by `height` px
    } kind = Kind::Own;
    double amount = 0;
    int width = 0;
    int height = 0;
    friend bool operator==(const SizeRule &, const SizeRule &) = default;
};
/// The long edge of a picture of that size by the rule, px; 0: its own.
int longEdgeFor(const SizeRule &rule, int width, int height);

/// How pictures are delivered: an export preset.
struct Delivery {
    static constexpr size_t kMostName = 200; ///< bytes of a name's pattern or a folder's

    ExportSettings picture; ///< its longEdgePx comes of `size`
    SizeRule size;
    std::string name = "{name}-keep"; ///< without ending; see fileNameFor()
    enum class Where { Beside, Subfolder, Folder } where = Where::Beside;
    std::string folder; ///< of those two
    enum class IfThere { Number, Replace, Skip } ifThere = IfThere::Number;
    bool masks = false; ///< beside the picture each keep's, as a grey PNG of 16 bits
    friend bool operator==(const Delivery &, const Delivery &) = default;
};

/// Of a format's word in files and on the command line: "jpeg", "png", "tiff", "webp", "avif",
/// "openraster".
std::optional<PictureFormat> formatFromWord(std::string_view word);

std::string deliveryToJson(const Delivery &delivery);
/// Errors: BadValue, named by `subject`.
Result<Delivery> deliveryFromJson(const std::string &text, const std::string &subject);

/// What a name's pattern is filled with.
struct NameFacts {
    std::string name; ///< the photo's, without its ending
    std::string take;
    std::string taken; ///< when the photo was, "2026-06-14"; empty: not known
    std::string date;  ///< today's, the same way
    int number = 1;    ///< of the photo among all
    int count = 1;     ///< of all
};
/// {name}, {take}, {taken}, {date} and {number} (with as many digits as the last one has) filled
/// in; what a file's name cannot hold becomes "-".
std::string fileNameFor(const std::string &pattern, const NameFacts &facts);
/// When a photo was taken, by its metadata.
std::string takenOn(const Metadata &metadata);
std::string today(); ///< local time

/// Where a photo's picture goes, with its ending.
std::string deliveredPath(const Delivery &delivery, const std::string &photo,
                          const NameFacts &facts);
/// The first of path, path-2, path-3, ... that `isTaken` does not know.
/// @param last the number that the same path was given last; goes on from there
std::string numberedPath(const std::string &path,
                         const std::function<bool(const std::string &)> &isTaken,
                         int *last = nullptr);

} // namespace buttonhole
