#include "settings/display_profile.h"

#include "io/file.h"

#include <QGuiApplication>

#include <xcb/xcb.h>

#include <cstdlib>
#include <cstring>

namespace buttonhole::app
{

namespace
{

template <class T>
using Freed = std::unique_ptr<T, decltype(&std::free)>;

std::vector<uint8_t> profileOfX11Screen()
{
    std::vector<uint8_t> icc;
    auto *x11 = qGuiApp->nativeInterface<QNativeInterface::QX11Application>();
    if (!x11 || !x11->connection())
        return icc;
    xcb_connection_t *connection = x11->connection();
    constexpr char kName[] = "_ICC_PROFILE";
    const Freed<xcb_intern_atom_reply_t> atom(
        xcb_intern_atom_reply(connection, xcb_intern_atom(connection, 1, sizeof kName - 1, kName),
                              nullptr),
        &std::free);
    if (!atom || atom->atom == XCB_ATOM_NONE)
        return icc;
    const xcb_window_t root = xcb_setup_roots_iterator(xcb_get_setup(connection)).data->root;
    constexpr uint32_t kMost = 1 << 20; // in 4-byte units
    const Freed<xcb_get_property_reply_t> property(
        xcb_get_property_reply(
            connection,
            xcb_get_property(connection, 0, root, atom->atom, XCB_GET_PROPERTY_TYPE_ANY, 0, kMost),
            nullptr),
        &std::free);
    if (!property)
        return icc;
    const auto *bytes = static_cast<const uint8_t *>(xcb_get_property_value(property.get()));
    icc.assign(bytes, bytes + xcb_get_property_value_length(property.get()));
    return icc;
}

} // namespace

Profile findDisplayProfile(const QString &chosenFile)
{
    if (!chosenFile.isEmpty()) {
        const std::string path = chosenFile.toStdString();
        if (auto bytes = readFile(path))
            if (auto profile = Profile::fromIcc(std::move(*bytes), path))
                return *profile;
    }
    auto icc = profileOfX11Screen();
    if (!icc.empty())
        if (auto profile = Profile::fromIcc(std::move(icc), "screen"))
            return *profile;
    return Profile::srgb();
}

} // namespace buttonhole::app
