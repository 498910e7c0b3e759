#include "base/base64.h"

#include <openssl/evp.h>

namespace buttonhole
{

std::string base64Of(std::string_view bytes)
{
    std::string out((bytes.size() + 2) / 3 * 4 + 1, '\0'); // it ends its text with a zero
    const int length =
        EVP_EncodeBlock(reinterpret_cast<unsigned char *>(out.data()),
                        reinterpret_cast<const unsigned char *>(bytes.data()), int(bytes.size()));
    out.resize(size_t(length));
    return out;
}

Result<std::string> bytesOfBase64(std::string_view text)
{
    const Error bad{ErrorKind::InvalidArgument, "base64", "bytes as base64 are expected"};
    if (text.size() % 4 != 0)
        return bad;
    std::string out(text.size() / 4 * 3 + 1, '\0');
    const int length =
        EVP_DecodeBlock(reinterpret_cast<unsigned char *>(out.data()),
                        reinterpret_cast<const unsigned char *>(text.data()), int(text.size()));
    if (length < 0)
        return bad;
    const size_t padding = text.size() - (text.find_last_not_of('=') + 1);
    if (padding > 2)
        return bad;
    out.resize(size_t(length) - padding);
    return out;
}

} // namespace buttonhole
