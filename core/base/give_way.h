#pragma once

namespace buttonhole
{

/// From now on the calling thread, and those that it starts, go behind the program's first thread
/// where all cores are busy. Once a thread is enough.
void giveWay();

} // namespace buttonhole
