#pragma once

#include "base/content.h"
#include "base/result.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace buttonhole
{

/// How a slider shows a number: a part of its range, in the unit that people think in.
struct ParamScale {
    enum class Way {
        Even,
        Eased,       ///< finer near 0
        Logarithmic, ///< each step by the same ratio
        Hues,        ///< the track shows the hues that it stands for
    };
    double factor = 1;     ///< what is shown to what is stored
    const char *unit = ""; ///< " %", " px", "°"
    int decimals = 0;
    Way way = Way::Even;
    /// A narrower range than what may be stored, as stored; least == most: all of it.
    float least = 0;
    float most = 0;
    bool hasSlider = true;
};

/// A number of a struct T, told once: files, checks, digests, sliders and the command line go by
/// its row. Its default is the struct's own.
template <class T>
struct Param {
    const char *id;    ///< its name in JSON, and for --set
    float &(*of)(T &); ///< where it is
    float least;       ///< what may be stored
    float most;
    int since = 1; ///< the version of the format that brought it
    ParamScale scale{};

    float get(const T &value) const { return of(const_cast<T &>(value)); }
    float initial() const
    {
        T plain{};
        return of(plain);
    }
    bool isOff(const T &value) const { return get(value) == initial(); }
    float leastShown() const { return scale.least == scale.most ? least : scale.least; }
    float mostShown() const { return scale.least == scale.most ? most : scale.most; }
};

/// A number of whatever struct: its row without the type.
struct AnyParam {
    std::string id;
    float least = 0;
    float most = 0;
    float initial = 0;
    ParamScale scale;
    int since = 1;

    float leastShown() const { return scale.least == scale.most ? least : scale.least; }
    float mostShown() const { return scale.least == scale.most ? most : scale.most; }
};

template <class T>
std::vector<AnyParam> anyParams(std::span<const Param<T>> rows)
{
    std::vector<AnyParam> out;
    for (const Param<T> &row : rows)
        out.push_back({row.id, row.least, row.most, row.initial(), row.scale, row.since});
    return out;
}

/// The place of the number of that id, which may be set to that value.
/// Errors: InvalidArgument where it is out of range; NotFound, with those that there are.
Result<size_t> placeOf(std::span<const AnyParam> numbers, std::string_view id, float value);

/// The row of an id, which must be there.
template <class T>
const Param<T> &paramNamed(std::span<const Param<T>> rows, std::string_view id)
{
    const auto row =
        std::find_if(rows.begin(), rows.end(), [&](const Param<T> &each) { return each.id == id; });
    assert(row != rows.end());
    return *row;
}

template <class T>
T changed(T value, const Param<T> &row, float number)
{
    row.of(value) = number;
    return value;
}

/// "a number from 0 to 0.5 is expected", for the least and most of a row.
std::string expectedNumber(float least, float most);

/// Errors: InvalidArgument for the first that is out of its range or not a number, by
/// `place` + its id.
template <class T>
Result<void> checkParams(const T &value, std::span<const Param<T>> rows, const char *place = "")
{
    for (const Param<T> &row : rows)
        if (const float v = row.get(value); !(v >= row.least && v <= row.most)) // NaN too
            return Error{ErrorKind::InvalidArgument, std::string(place) + row.id,
                         expectedNumber(row.least, row.most)};
    return {};
}

/// The first version of the format that understands what is not at its default; 1 if all is.
template <class T>
int neededVersion(const T &value, std::span<const Param<T>> rows)
{
    int version = 1;
    for (const Param<T> &row : rows)
        if (!row.isOff(value))
            version = std::max(version, row.since);
    return version;
}

/// The content id of all that the rows hold whose ids begin so, and of what came before.
template <class T>
uint64_t contentOf(const T &value, std::span<const Param<T>> rows, uint64_t before,
                   std::string_view begin = {})
{
    for (const Param<T> &row : rows)
        if (std::string_view(row.id).starts_with(begin))
            before = joinedContent(before, {row.get(value)});
    return before;
}

template <class T, size_t A, size_t B>
constexpr std::array<Param<T>, A + B> joinedRows(const Param<T> (&a)[A],
                                                 const std::array<Param<T>, B> &b)
{
    std::array<Param<T>, A + B> out{};
    std::copy(a, a + A, out.begin());
    std::copy(b.begin(), b.end(), out.begin() + A);
    return out;
}

} // namespace buttonhole
