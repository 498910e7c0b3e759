#pragma once

#include "base/result.h"

#include <cstdint>
#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace buttonhole
{

/// What a photo says it was taken with; empty and 0 where it does not.
struct TakenWith {
    std::string maker; ///< of the camera
    std::string model;
    std::string lens;
    double focalMm = 0;
    double aperture = 0; ///< f-number
};

/// What a picture file says about itself: EXIF, XMP and IPTC, carried over unread. Immutable.
class Metadata
{
public:
    Metadata();
    /// Reads from a file's bytes or its path; a file without or with broken metadata gives an
    /// empty one.
    static Metadata fromBytes(const std::vector<uint8_t> &bytes);
    static Metadata fromFile(const std::string &path);

    bool isEmpty() const;
    bool hasLocation() const;
    /// EXIF's XResolution in pixels to the inch; 0 where it says nothing that makes sense.
    double dpi() const;
    TakenWith takenWith() const;
    int orientation() const; ///< EXIF 1..8; 1 where none is given
    /// ICC profile as the file holds it, for formats whose codec does not give it.
    const std::vector<uint8_t> &icc() const;
    /// Camera, lens, exposure, date, author and the like: (plain name, value), in that order.
    std::vector<std::pair<std::string, std::string>> summary() const;

    /// What of it goes on into another file.
    enum class Carried {
        All,
        Credits, ///< author, copyright, description
        Nothing
    };
    struct WriteOptions {
        bool stripLocation = false;
        Carried carried = Carried::All;
        std::string copyright = {};   ///< in the place of its own; empty: that
        std::string description = {}; ///< the same
        int width = 0;                ///< of the written picture
        int height = 0;
        std::vector<uint8_t> thumbnailJpeg = {}; ///< replaces the old one; empty: none
    };
    /// Anything would be written.
    bool hasToWrite(const WriteOptions &options) const;
    /// Adds the metadata to a finished picture file: orientation becomes 1 (pixels are upright),
    /// sizes and thumbnail are renewed, tags that describe the old file's storage are left out.
    /// Errors: Io, DiskFull.
    Result<void> writeTo(const std::string &path, const WriteOptions &options) const;

private:
    struct Data;
    std::shared_ptr<const Data> m_data;
};

} // namespace buttonhole
