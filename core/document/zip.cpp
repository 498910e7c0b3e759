#include "document/zip.h"

#include "io/file.h"

#include <zip.h>

#include <cerrno>

namespace buttonhole
{

struct ZipReader::Handle {
    zip_t *zip = nullptr;
    std::string path;
    ~Handle()
    {
        if (zip)
            zip_discard(zip);
    }
};

Result<ZipReader> ZipReader::open(const std::string &path)
{
    const auto start = readStart(path, 4); // words missing, unreadable and empty files
    if (!start)
        return start.error();
    int code = 0;
    auto handle = std::make_shared<Handle>();
    handle->path = path;
    handle->zip = zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &code);
    if (!handle->zip)
        return Error{ErrorKind::Damaged, path, "it is not a whole .buttonhole file"};
    ZipReader reader;
    reader.m_handle = std::move(handle);
    return reader;
}

std::vector<std::string> ZipReader::names() const
{
    std::vector<std::string> out;
    const zip_int64_t count = zip_get_num_entries(m_handle->zip, 0);
    for (zip_int64_t i = 0; i < count; ++i)
        if (const char *name = zip_get_name(m_handle->zip, zip_uint64_t(i), 0))
            out.emplace_back(name);
    return out;
}

bool ZipReader::contains(const std::string &name) const
{
    return zip_name_locate(m_handle->zip, name.c_str(), 0) >= 0;
}

Result<std::vector<uint8_t>> ZipReader::read(const std::string &name, uint64_t most) const
{
    zip_stat_t info;
    if (zip_stat(m_handle->zip, name.c_str(), 0, &info) != 0)
        return Error{ErrorKind::NotFound, name, "it is not in " + m_handle->path};
    if (info.size > most)
        return Error{ErrorKind::TooLarge, m_handle->path,
                     name + " says that it has " + std::to_string(info.size) + " bytes"};
    std::vector<uint8_t> bytes(info.size);
    zip_file_t *file = zip_fopen(m_handle->zip, name.c_str(), 0);
    const zip_int64_t got = file ? zip_fread(file, bytes.data(), bytes.size()) : -1;
    const bool closed = file && zip_fclose(file) == 0;
    if (got != zip_int64_t(bytes.size()) || !closed)
        return Error{ErrorKind::Damaged, m_handle->path, name};
    return bytes;
}

Result<void> ZipReader::readPieces(const std::string &name, uint64_t most,
                                   const std::function<Result<void>(const void *, size_t)> &take,
                                   const Run &run) const
{
    constexpr uint64_t kMostPacked = 20;
    zip_stat_t info;
    if (zip_stat(m_handle->zip, name.c_str(), 0, &info) != 0)
        return Error{ErrorKind::NotFound, name, "it is not in " + m_handle->path};
    if (info.size > most || info.size / kMostPacked > info.comp_size)
        return Error{ErrorKind::TooLarge, m_handle->path,
                     name + " says that it has " + std::to_string(info.size) + " bytes"};
    const std::unique_ptr<zip_file_t, int (*)(zip_file_t *)> file(
        zip_fopen(m_handle->zip, name.c_str(), 0), zip_fclose);
    std::vector<uint8_t> piece(1 << 20);
    for (uint64_t done = 0; file && done < info.size;) {
        if (run.stopped())
            return Error{ErrorKind::Cancelled, m_handle->path, {}};
        const zip_int64_t got = zip_fread(file.get(), piece.data(), piece.size());
        if (got <= 0)
            return Error{ErrorKind::Damaged, m_handle->path, name};
        if (auto taken = take(piece.data(), size_t(got)); !taken)
            return taken;
        done += uint64_t(got);
    }
    return file ? Result<void>() : Error{ErrorKind::Damaged, m_handle->path, name};
}

void ZipWriter::add(const std::string &name, std::vector<uint8_t> bytes, Compression compression)
{
    m_entries.push_back({name, std::move(bytes), {}, {}, compression});
}

void ZipWriter::add(const std::string &name, const std::string &text)
{
    add(name, {text.begin(), text.end()}, Compression::Deflate);
}

void ZipWriter::addFile(const std::string &name, const std::string &path)
{
    m_entries.push_back({name, {}, path, {}, Compression::Store});
}

void ZipWriter::addFrom(const std::string &name, const ZipReader &reader, const std::string &entry)
{
    m_entries.push_back({name, {}, entry, reader, Compression::Store});
}

Result<void> ZipWriter::writeTo(const std::string &path) const
{
    int code = 0;
    errno = 0;
    zip_t *zip = zip_open(path.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &code);
    if (!zip)
        return systemError(path);
    for (const Entry &entry : m_entries) {
        zip_t *from = entry.reader ? entry.reader->m_handle->zip : nullptr;
        zip_source_t *source =
            from                 ? zip_source_zip(zip, from,
                                                  zip_uint64_t(zip_name_locate(from, entry.path.c_str(), 0)), 0, 0,
                                                  -1)
            : entry.path.empty() ? zip_source_buffer(zip, entry.bytes.data(), entry.bytes.size(), 0)
                                 : zip_source_file(zip, entry.path.c_str(), 0, -1);
        const zip_int64_t index =
            source ? zip_file_add(zip, entry.name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
        if (index < 0) {
            const std::string problem = zip_strerror(zip);
            zip_discard(zip);
            return Error{ErrorKind::Io, path, problem};
        }
        zip_set_file_compression(
            zip, zip_uint64_t(index),
            entry.compression == Compression::Store ? ZIP_CM_STORE : ZIP_CM_DEFLATE, 0);
    }
    if (zip_close(zip) != 0) {
        const zip_error_t *problem = zip_get_error(zip);
        const bool isFull = zip_error_code_system(problem) == ENOSPC;
        Error error{isFull ? ErrorKind::DiskFull : ErrorKind::Io, path, zip_strerror(zip)};
        zip_discard(zip);
        return error;
    }
    return {};
}

} // namespace buttonhole
