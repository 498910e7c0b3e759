#pragma once

#include "base/result.h"

#include <string>
#include <string_view>

namespace buttonhole
{

/// Bytes as text and back (RFC 4648, section 4, padded).
std::string base64Of(std::string_view bytes);
/// Errors: InvalidArgument.
Result<std::string> bytesOfBase64(std::string_view text);

} // namespace buttonhole
