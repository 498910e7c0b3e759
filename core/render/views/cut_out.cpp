#include "render/rows.h"
#include "render/view.h"

namespace buttonhole
{

void paintCutOut(const Rows &rows, const RowJob &job, RowBuffer &out)
{
    constexpr int kCell = 12;
    rows.outputLightRow(job, true, out);
    for (int i = 0; i < job.n; ++i) {
        const float m = float(job.mask[i]) / 65535.0F;
        const bool isLight = (((job.place.x + i) / kCell + job.place.y / kCell) & 1) != 0;
        const float under = isLight ? 0.60F : 0.42F;
        out.r[i] = under + (out.r[i] - under) * m;
        out.g[i] = under + (out.g[i] - under) * m;
        out.b[i] = under + (out.b[i] - under) * m;
    }
    rows.encode(out, job.n);
}

} // namespace buttonhole
