#include "render/rows.h"
#include "render/view.h"

namespace buttonhole
{

void paintMask(const Rows &rows, const RowJob &job, RowBuffer &out)
{
    for (int i = 0; i < job.n; ++i) {
        const uint32_t m = job.mask[i];
        const auto code = uint16_t(rows.bits() > 8 ? m : (m * 255 + 32767) / 65535);
        out.out[0][i] = out.out[1][i] = out.out[2][i] = code;
    }
}

} // namespace buttonhole
