#pragma once

#include "document/preset.h"

namespace buttonhole
{

/// A preset as it lies in the store.
struct StoredPreset {
    std::string path;
    std::string folder; ///< its own of the store's; empty: none
    bool isShipped = false;
    Preset preset;
    std::string problem; ///< why it cannot be used; empty: it can
    std::vector<std::string> notes;
};

/// The user's presets, one JSON file each in a folder and its subfolders, and those that come with
/// the program. Files that are put there by hand are found as well.
class PresetStore
{
public:
    /// @param own where the user's are; it need not be there yet
    explicit PresetStore(std::string own, std::string shipped = {});
    /// The user's own in $XDG_DATA_HOME, and those installed.
    static PresetStore system();

    const std::string &folder() const { return m_own; }
    /// By folder and name, the user's first; at most 1000 of each.
    std::vector<StoredPreset> list() const;
    /// The one of that name, "Portraits/Calm" or "Calm", any case. Errors: NotFound, with those
    /// there are; BadValue and the like for one that cannot be used.
    Result<StoredPreset> find(const std::string &name) const;
    /// Writes it, over the one of that name in that folder. @return its path
    /// Errors: InvalidArgument (name or folder), those of writing.
    Result<std::string> save(const Preset &preset, const std::string &folder = {}) const;
    /// To another name, or another folder. Errors: Conflict: there is one; as save().
    Result<std::string> move(const StoredPreset &stored, const std::string &name,
                             const std::string &folder) const;
    /// Only the user's own. Errors: those of the system.
    Result<void> remove(const StoredPreset &stored) const;

private:
    std::string m_own;
    std::string m_shipped;
};

/// Reads a preset's file. Errors: those of readFile() and presetFromText(); TooLarge above 8 MB.
Result<Preset> readPresetFile(const std::string &path, std::vector<std::string> &notes);

} // namespace buttonhole
