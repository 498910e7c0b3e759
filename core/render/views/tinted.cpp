#include "render/rows.h"
#include "render/view.h"

namespace buttonhole
{

namespace
{

/// A basket weave: threads run across in one cell and down in the next, so that the tint can be
/// told from any colour of the photo by its pattern too.
float weave(int x, int y)
{
    constexpr int kCell = 8;
    constexpr int kThread = 4;
    const bool across = ((x / kCell + y / kCell) & 1) != 0;
    return (across ? y : x) % kThread < 2 ? 0.78F : 0.42F;
}

} // namespace

void paintTinted(const Rows &rows, const RowJob &job, RowBuffer &out)
{
    rows.outputLightRow(job, false, out);
    const auto &tint = rows.tint();
    for (int i = 0; i < job.n; ++i) {
        const float a = float(job.mask[i]) / 65535.0F * weave(job.place.x + i, job.place.y);
        out.r[i] += (tint[0] - out.r[i]) * a;
        out.g[i] += (tint[1] - out.g[i]) * a;
        out.b[i] += (tint[2] - out.b[i]) * a;
    }
    rows.encode(out, job.n);
}

} // namespace buttonhole
