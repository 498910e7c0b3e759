#include "render/rows.h"
#include "render/view.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace buttonhole
{

/// OKLab chroma up to 0.25 as heat: from dark felt over marigold to white.
void paintColourMap(const Rows &rows, const RowJob &job, RowBuffer &out)
{
    constexpr float kMostChroma = 0.25F;
    constexpr float kStops[][3] = {{0.012F, 0.013F, 0.014F},
                                   {0.10F, 0.035F, 0.012F},
                                   {0.55F, 0.17F, 0.012F},
                                   {0.90F, 0.48F, 0.10F},
                                   {1.0F, 0.93F, 0.75F}}; // linear
    constexpr int kPieces = int(std::size(kStops)) - 1;
    rows.lightRow(job, false, out);
    labRow(rows.colour().toLms.data(), job.n, out.r, out.g, out.b);
    for (int i = 0; i < job.n; ++i) {
        const float chroma = std::hypot(out.g[i], out.b[i]);
        const float at = std::min(chroma / kMostChroma, 1.0F) * kPieces;
        const int piece = std::min(int(at), kPieces - 1);
        const float part = at - float(piece);
        const auto mixed = [&](int c) {
            return kStops[piece][c] + (kStops[piece + 1][c] - kStops[piece][c]) * part;
        };
        out.r[i] = mixed(0);
        out.g[i] = mixed(1);
        out.b[i] = mixed(2);
    }
    rows.encode(out, job.n);
}

} // namespace buttonhole
