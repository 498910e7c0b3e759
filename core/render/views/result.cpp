#include "render/rows.h"
#include "render/view.h"

namespace buttonhole
{

void paintResult(const Rows &rows, const RowJob &job, RowBuffer &out)
{
    rows.resultRow(job, out);
}

} // namespace buttonhole
