#pragma once

#include <cassert>
#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace buttonhole
{

/// What can go wrong in a correct program. A kind exists only where some caller acts on it.
enum class ErrorKind {
    NotFound,        ///< no such file or name
    NoPermission,    ///< reading or writing was refused
    NotAPhoto,       ///< the content is of no kind that can be read
    Damaged,         ///< of a known kind, but broken or cut off
    TooLarge,        ///< beyond kMaxSide or kMaxPixels
    OutOfMemory,     ///< a buffer could not be had
    DiskFull,        ///< no room where the file was to go
    InvalidArgument, ///< a value outside its range, NaN, an unknown name
    Cancelled,       ///< stopped by the user
    PhotoMissing,    ///< a .buttonhole file's photo is not where it was
    Newer,           ///< written by a newer version in a way that cannot be read
    BadValue,        ///< a file is whole, but says something that cannot be
    Conflict,        ///< another window or program works on the file, or has written to it
    Internal,        ///< a fault of this program
    Io,              ///< any other failure of reading or writing
};

struct Error {
    ErrorKind kind = ErrorKind::Io;
    std::string subject; ///< what it happened to: usually a file's path
    std::string detail;  ///< what the library or the system said; may be empty
};

/// One or two sentences for the user: what happened, to which file, what to do.
std::string sentence(const Error &error);

/// A stable word for a kind, used in the command line's JSON errors.
std::string kindName(ErrorKind kind);

/// A value or an Error. The verbs are those of C++23's std::expected, so that it can be swapped in.
template <class T>
class [[nodiscard]] Result
{
public:
    Result(T value) : m_state(std::in_place_index<0>, std::move(value)) {}
    Result(Error error) : m_state(std::in_place_index<1>, std::move(error)) {}

    bool has_value() const { return m_state.index() == 0; }
    explicit operator bool() const { return has_value(); }
    T &value() & { return get(*this); }
    const T &value() const & { return get(*this); }
    T &&value() && { return std::move(get(*this)); }
    T &operator*() & { return get(*this); }
    const T &operator*() const & { return get(*this); }
    T &&operator*() && { return std::move(get(*this)); }
    T *operator->() { return &get(*this); }
    const T *operator->() const { return &get(*this); }
    const Error &error() const
    {
        assert(!has_value());
        return *std::get_if<1>(&m_state);
    }

private:
    template <class Self>
    static auto &get(Self &self)
    {
        assert(self.has_value());
        return *std::get_if<0>(&self.m_state);
    }
    std::variant<T, Error> m_state;
};

template <>
class [[nodiscard]] Result<void>
{
public:
    Result() = default;
    Result(Error error) : m_error(std::move(error)) {}

    bool has_value() const { return !m_error.has_value(); }
    explicit operator bool() const { return has_value(); }
    const Error &error() const
    {
        assert(m_error);
        return *m_error;
    }

private:
    std::optional<Error> m_error;
};

/// The Error for the present value of errno.
Error systemError(const std::string &subject);

/// The Error for the exception in hand; only to be called while one is being caught.
Error caughtError(const std::string &subject);

} // namespace buttonhole
