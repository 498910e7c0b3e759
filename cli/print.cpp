#include "print.h"

#include "io/file.h"

#include <algorithm>
#include <cmath>
#include <string_view>

namespace buttonhole::cli
{

namespace
{

Result<PrintPage> pageOf(const PrintArguments &arguments)
{
    PrintPage out = arguments.page;
    std::string known;
    bool isKnown = false;
    for (const Paper &each : papers()) {
        known += (known.empty() ? "" : ", ") + std::string(each.name);
        if (arguments.paper != each.name)
            continue;
        isKnown = true;
        out.widthMm = each.widthMm;
        out.heightMm = each.heightMm;
    }
    if (arguments.size.size() == 2) {
        out.widthMm = arguments.size[0];
        out.heightMm = arguments.size[1];
    } else if (!isKnown) {
        return Error{ErrorKind::NotFound, "paper \"" + arguments.paper + "\"",
                     "there are: " + known};
    }
    if (arguments.isLying)
        std::swap(out.widthMm, out.heightMm);
    if (arguments.grid.size() == 2) {
        out.columns = arguments.grid[0];
        out.rows = arguments.grid[1];
    }
    return out;
}

} // namespace

int printPages(const PrintArguments &arguments, const OutputOptions &options)
{
    const auto page = pageOf(arguments);
    if (!page)
        return fail(page.error(), options);
    for (const std::string &input : arguments.inputs)
        if (isSameFile(input, arguments.out))
            return fail({ErrorKind::InvalidArgument, arguments.out, "it is what is read"}, options);
    const auto next = [&](size_t i, const Run &run) {
        return fileForPrint(arguments.inputs[i], arguments.take, *page, i, run);
    };
    const auto printed =
        printPdf(arguments.inputs.size(), next, *page, arguments.out, makeRun("Printing", options));
    endProgress(options);
    if (!printed)
        return fail(printed.error(), options);
    if (printed->leastDpi < 0.95 * page->dpi)
        printNotes({"a picture has " + std::to_string(std::lround(printed->leastDpi)) +
                    " dpi at that size: there are no more pixels"},
                   options);
    return Ok;
}

} // namespace buttonhole::cli
