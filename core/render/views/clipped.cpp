#include "render/rows.h"
#include "render/view.h"

namespace buttonhole
{

void markClipped(const Rows &rows, const RowJob &job, RowBuffer &out)
{
    const auto top = uint16_t(rows.bits() > 8 ? 65535 : 255);
    for (int i = 0; i < job.n; ++i) {
        const auto is = [&](uint16_t code) {
            return out.out[0][i] == code && out.out[1][i] == code && out.out[2][i] == code;
        };
        if (job.mask[i] == 65535)
            continue;
        if (is(0)) {
            out.out[1][i] = top / 3;
            out.out[2][i] = top;
        } else if (is(top)) {
            out.out[1][i] = top / 5;
            out.out[2][i] = top / 10;
        }
    }
}

} // namespace buttonhole
