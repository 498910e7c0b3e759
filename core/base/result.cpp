#include "base/result.h"

#include <cerrno>
#include <new>
#include <system_error>

namespace buttonhole
{

std::string kindName(ErrorKind kind)
{
    switch (kind) {
    case ErrorKind::NotFound:
        return "not-found";
    case ErrorKind::NoPermission:
        return "no-permission";
    case ErrorKind::NotAPhoto:
        return "not-a-photo";
    case ErrorKind::Damaged:
        return "damaged";
    case ErrorKind::TooLarge:
        return "too-large";
    case ErrorKind::OutOfMemory:
        return "out-of-memory";
    case ErrorKind::DiskFull:
        return "disk-full";
    case ErrorKind::InvalidArgument:
        return "invalid-argument";
    case ErrorKind::Cancelled:
        return "cancelled";
    case ErrorKind::PhotoMissing:
        return "photo-missing";
    case ErrorKind::Newer:
        return "newer-version";
    case ErrorKind::BadValue:
        return "bad-value";
    case ErrorKind::Conflict:
        return "conflict";
    case ErrorKind::Internal:
        return "internal";
    case ErrorKind::Io:
        break;
    }
    return "io";
}

namespace
{

std::string withDetail(const std::string &text, const std::string &detail)
{
    return detail.empty() ? text : text + " (" + detail + ")";
}

} // namespace

std::string sentence(const Error &error)
{
    const std::string &file = error.subject;
    switch (error.kind) {
    case ErrorKind::NotFound:
        return withDetail("Not found: " + file, error.detail) +
               ". Check the name, or whether it was moved.";
    case ErrorKind::NoPermission:
        return withDetail("No permission: " + file, error.detail) +
               ". Change its permissions, or choose another place.";
    case ErrorKind::NotAPhoto:
        return withDetail("Not a photo that can be read: " + file, error.detail) +
               ". Open a JPEG, PNG, TIFF, WebP, HEIF, AVIF or camera raw file.";
    case ErrorKind::Damaged:
        return withDetail("Damaged or cut off: " + file, error.detail) +
               ". Copy it again from where it came, or use another copy.";
    case ErrorKind::TooLarge:
        return withDetail("Too large: " + file, error.detail) +
               ". Make it smaller than 65,000 pixels a side and 400 megapixels first.";
    case ErrorKind::OutOfMemory:
        return "Not enough memory: " + file + ". Close other programs and try again.";
    case ErrorKind::DiskFull:
        return "No room left on the disk for " + file +
               ". Nothing was overwritten. Free some space, or choose another place.";
    case ErrorKind::InvalidArgument:
        return withDetail("Cannot be used: " + file, error.detail) + ".";
    case ErrorKind::Cancelled:
        return "Stopped: " + file + ". Nothing was changed.";
    case ErrorKind::PhotoMissing:
        return withDetail("The photo of this work is missing: " + file, error.detail) +
               ". Put it back beside the .buttonhole file, or point to it.";
    case ErrorKind::Newer:
        return withDetail("Made by a newer version: " + file, error.detail) +
               ". Update Buttonhole to open it.";
    case ErrorKind::BadValue:
        return withDetail("Something in " + file + " cannot be", error.detail) +
               ". Put it right, or use another copy.";
    case ErrorKind::Conflict:
        return withDetail("Not overwritten: " + file, error.detail) + ". Choose another name.";
    case ErrorKind::Internal:
        return withDetail("Something went wrong inside Buttonhole: " + file, error.detail) +
               ". Your files are as they were; save the work, then start Buttonhole again.";
    case ErrorKind::Io:
        break;
    }
    return withDetail("Could not read or write " + file, error.detail) +
           ". Check the disk and try again.";
}

Error systemError(const std::string &subject)
{
    const int code = errno;
    ErrorKind kind = ErrorKind::Io;
    switch (code) {
    case ENOENT:
    case ENOTDIR:
        kind = ErrorKind::NotFound;
        break;
    case EACCES:
    case EPERM:
    case EROFS:
        kind = ErrorKind::NoPermission;
        break;
    case ENOSPC:
    case EDQUOT:
        kind = ErrorKind::DiskFull;
        break;
    default:
        break;
    }
    return {kind, subject, std::generic_category().message(code)};
}

Error caughtError(const std::string &subject)
{
    try {
        throw;
    } catch (const std::bad_alloc &) {
        return {ErrorKind::OutOfMemory, subject, {}};
    } catch (const std::system_error &problem) {
        return {ErrorKind::Io, subject, problem.what()};
    } catch (const std::exception &problem) {
        return {ErrorKind::Internal, subject, problem.what()};
    } catch (...) {
        return {ErrorKind::Internal, subject, {}};
    }
}

} // namespace buttonhole
