#include "render/rows.h"
#include "render/view.h"

namespace buttonhole
{

void paintOriginal(const Rows &rows, const RowJob &job, RowBuffer &out)
{
    rows.photoRow(job, out);
}

} // namespace buttonhole
