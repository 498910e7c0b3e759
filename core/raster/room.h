#pragma once

#include <cstddef>
#include <memory>

namespace buttonhole
{

// Memory for rasters that come and go while a picture is made. From the common heap they would
// leave holes between what stays, which never go back to the system; here some is kept for the next
// taker instead, so that nothing faults in fresh pages. Thread-safe.

/// Room for `bytes`, aligned to 64; its values are open. Throws std::bad_alloc.
void *takeRoom(size_t bytes);
void giveRoomBack(void *room, size_t bytes);

template <class T>
struct RoomReturn {
    size_t count = 0;
    void operator()(T *values) const { giveRoomBack(values, count * sizeof(T)); }
};

/// Of `T`s that need no construction.
template <class T>
using Room = std::unique_ptr<T[], RoomReturn<T>>;

template <class T>
Room<T> roomFor(size_t count)
{
    return Room<T>(static_cast<T *>(takeRoom(count * sizeof(T))), RoomReturn<T>{count});
}

} // namespace buttonhole
