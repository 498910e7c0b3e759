#include "run.h"

#include "commands.h"
#include "document/container.h"
#include "remove.h"

#include <CLI/CLI.hpp>

#include <clocale>

namespace buttonhole
{

namespace
{

/// The options of an exported picture, the same for every command that writes one.
void addExportOptions(CLI::App &command, ExportSettings &settings, std::string &space)
{
    command.add_option("--quality", settings.quality, "JPEG quality, 1 to 100")
        ->capture_default_str();
    command.add_option("--bits", settings.bits, "bits per channel: 8, or 16 for PNG and TIFF")
        ->capture_default_str();
    command.add_option("--long-edge", settings.longEdgePx,
                       "longer side in pixels; 0 = the picture's own size (never enlarged)");
    command.add_option("--profile", space, "colour profile of the file: photo or srgb")
        ->check(CLI::IsMember({"photo", "srgb"}));
    command.add_flag("--strip-location", settings.stripLocation,
                     "leave out where the photo was taken");
}

/// What is found out of a photo by itself.
void addFindingOptions(CLI::App &command, cli::FindingArguments &find)
{
    command.add_option(
        "--lens", find.lens,
        "take back what the lens did: its name, or \"auto\" for what the photo says");
    command.add_flag("--straighten", find.straightens, "set it level by its straight edges");
    command.add_flag("--spots", find.spots, "find dust and mend it");
    command.add_flag("--auto-light", find.light,
                     "set exposure, points and white balance by the photo");
}

void addChangeOptions(CLI::App &command, cli::ChangeArguments &change)
{
    auto *look = command.add_option("--look", change.look, "a look, by name (see: looks)");
    command.add_option("--look-strength", change.strength, "percent, 0 to 100")
        ->needs(look)
        ->check(CLI::Range(0.0, 100.0));
    command.add_option("--set", change.sets,
                       "one number, e.g. grey.tone.contrast=20 or \"keep:Teal ball.featherPx=3\"; "
                       "may be given again");
    command.add_option("--local", change.locals,
                       "a local tone, START or START:KEEP: empty, everything, inside, outside, "
                       "spotlight, settle, calm, bite, dodge, burn; may be given again");
    command.add_option("--finish", change.ends,
                       "of the whole picture: vignette, grain, toneColours, negative, or a frame: "
                       "border, passePartout, blackEdge, thinLine, corners; may be given again");
    auto *sign = command.add_option("--sign", change.sign, "sign the picture with a text");
    command.add_option("--sign-font", change.signFont, "its font, e.g. \"Inter Bold\"")
        ->needs(sign);
    command.add_option("--sign-with", change.signWith, "sign it with a PNG or SVG file")
        ->excludes(sign);
    command.add_option("--crop", change.crop, "what of the photo leaves: X Y WIDTH HEIGHT, pixels")
        ->expected(4);
    command
        .add_option("--deliver", change.deliver,
                    "size that the picture leaves in: WIDTH HEIGHT, pixels; 0 0: its own")
        ->expected(2);
    command.add_option("--turn", change.quarterTurns, "quarter turns clockwise, 0 to 3")
        ->check(CLI::Range(0, 3));
    auto *mirror = command.add_flag_callback(
        "--mirror", [&] { change.mirrors = true; }, "left and right change places");
    command
        .add_flag_callback(
            "--no-mirror", [&] { change.mirrors = false; }, "they stay, whatever the take says")
        ->excludes(mirror);
    command.add_flag("--auto", change.finds, "find the mix that keeps the colours' contrasts")
        ->excludes(look);
    addFindingOptions(command, change.find);
}

int settle(ExportSettings &settings, const std::string &space, const std::string &out,
           const cli::OutputOptions &options)
{
    const auto format = formatFromPath(out);
    if (!format)
        return cli::fail(format.error(), options);
    settings.format = *format;
    settings.space = space == "srgb" ? ExportSettings::Space::Srgb : ExportSettings::Space::Photo;
    return cli::Ok;
}

int run(int argc, char **argv, cli::OutputOptions &options)
{
    std::setlocale(LC_ALL, "C.UTF-8");
    CLI::App app(
        "Buttonhole without a window: a photo in black and white with chosen parts kept in "
        "colour.\nExit codes: 0 done, 1 failed, 2 wrong use, 3 not found, 4 bad input, "
        "5 cannot write.",
        "buttonhole-cli");
    app.set_version_flag("--version", BUTTONHOLE_VERSION);
    app.set_help_all_flag("--help-all", "Print this of every command and exit");
    app.require_subcommand(1);
    app.fallthrough();
    app.add_flag("--json", options.json, "errors as one JSON object on stderr");
    app.add_flag("--quiet", options.quiet, "no progress and no notes");

    std::string space = "photo";
    const char *photoHelp = "where the photo is now, if it was moved";

    cli::InfoArguments info;
    auto *infoCommand = app.add_subcommand("info", "Print what is known of a file, as JSON");
    infoCommand->add_option("FILE", info.file, "photo or .buttonhole file")->required();
    infoCommand->add_option("--photo", info.photo, photoHelp);

    cli::RenderArguments render;
    auto *renderCommand = app.add_subcommand("render", "Write the finished picture");
    renderCommand->add_option("FILE", render.file, "photo or .buttonhole file")->required();
    renderCommand->add_option("-o,--out", render.out, "picture to write: .jpg, .png or .tif")
        ->required();
    renderCommand->add_option("--take", render.take, "name of the take; the current one otherwise");
    renderCommand->add_option("--photo", render.photo, photoHelp);
    addChangeOptions(*renderCommand, render.change);
    addExportOptions(*renderCommand, render.settings, space);

    cli::GreyInfoArguments grey;
    auto *greyCommand = app.add_subcommand("grey", "Print the grey mix of a file, as JSON");
    greyCommand->add_option("FILE", grey.file, "photo or .buttonhole file")->required();
    greyCommand->add_option("--take", grey.take, "name of the take; the current one otherwise");
    greyCommand->add_option("--photo", grey.photo, photoHelp);
    addChangeOptions(*greyCommand, grey.change);
    cli::SubjectsArguments subjects;
    auto *subjectsCommand = app.add_subcommand(
        "subjects", "Print what is found in a photo, as JSON with steps for a take");
    subjectsCommand->add_option("FILE", subjects.file, "photo or .buttonhole file")->required();
    subjectsCommand->add_option("--photo", subjects.photo, photoHelp);
    subjectsCommand->add_flag("--outlines", subjects.traces, "with what would be kept of each");
    cli::CropsArguments crops;
    auto *cropsCommand = app.add_subcommand(
        "crops", "Print crops that hold the main subject well, as JSON, the best first");
    cropsCommand->add_option("FILE", crops.file, "photo or .buttonhole file")->required();
    cropsCommand->add_option("--photo", crops.photo, photoHelp);
    cropsCommand->add_option("--ratio", crops.ratio, "width to height, e.g. 1.5; any otherwise")
        ->check(CLI::Range(0.1, 10.0));
    auto *looksCommand = app.add_subcommand("looks", "Print the looks there are, as JSON");

    cli::PrepareArguments prepare;
    auto *prepareCommand = app.add_subcommand(
        "prepare", "Write photos made ready, in colour; one that fails does not stop the others");
    prepareCommand->add_option("PHOTO", prepare.photos, "photos, or folders of them")->required();
    prepareCommand
        ->add_option("-o,--out", prepare.out, "picture to write; for more than one a folder")
        ->required();
    addFindingOptions(*prepareCommand, prepare.find);

    cli::RemoveArguments remove;
    auto *removeCommand = app.add_subcommand(
        "remove", "Write the photo without what a mask covers, filled from round about");
    removeCommand->add_option("FILE", remove.file, "photo or .buttonhole file")->required();
    auto *ofKeep = removeCommand->add_option("--keep", remove.keep, "the keep whose mask it is");
    removeCommand->add_option("--mask", remove.mask, "or a grey picture of the photo's size")
        ->excludes(ofKeep);
    removeCommand->add_option("-o,--out", remove.out, "picture to write: .jpg, .png or .tif")
        ->required();
    removeCommand->add_option("--take", remove.take, "name of the take; the current one otherwise");
    removeCommand->add_option("--photo", remove.photo, photoHelp);
    removeCommand->add_option("--grow", remove.growPx, "make the mask larger by that, px")
        ->check(CLI::Range(0, 300))
        ->capture_default_str();
    removeCommand->add_option("--try", remove.attempt, "another number, another answer")
        ->check(CLI::Range(0, 1000));
    removeCommand
        ->add_option("--source", remove.source, "fill from there only: X Y WIDTH HEIGHT, pixels")
        ->expected(4);

    cli::MaskArguments mask;
    auto *maskCommand = app.add_subcommand("mask", "Write a keep's mask as a grey PNG");
    maskCommand->add_option("FILE", mask.file, "photo or .buttonhole file")->required();
    maskCommand->add_option("--keep", mask.keep, "name of the keep")->required();
    maskCommand->add_option("-o,--out", mask.out, "PNG to write")->required();
    maskCommand->add_option("--take", mask.take, "name of the take; the current one otherwise");
    maskCommand->add_option("--photo", mask.photo, photoHelp);
    maskCommand->add_option("--bits", mask.bits, "8 or 16")->capture_default_str();

    cli::ApplyArguments apply;
    auto *applyCommand = app.add_subcommand("apply", "Apply a take written as JSON to a photo");
    applyCommand->add_option("PHOTO", apply.photo, "photo")->required();
    applyCommand->add_option("--take", apply.take, "take as JSON (docs/format.md)")->required();
    applyCommand->add_option("-o,--out", apply.out, "picture to write: .jpg, .png or .tif");
    applyCommand
        ->add_option("--mask-in,--mask-of", apply.masksIn,
                     "keep's name, then a grey picture of the photo's size to add to its mask")
        ->type_size(2)
        ->allow_extra_args();
    applyCommand
        ->add_option("--mask-out", apply.masksOut,
                     "keep's name, then the PNG that its mask is written to, at 16 bits")
        ->type_size(2)
        ->allow_extra_args();
    applyCommand->add_option("--save", apply.save, "also save a .buttonhole file");
    addChangeOptions(*applyCommand, apply.change);
    addExportOptions(*applyCommand, apply.settings, space);

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError &problem) {
        if (problem.get_exit_code() == 0)
            return app.exit(problem);
        if (options.json)
            return cli::fail({ErrorKind::InvalidArgument, "command line", problem.what()}, options);
        app.exit(problem);
        return cli::WrongUse;
    }

    if (infoCommand->parsed())
        return cli::info(info, options);
    if (greyCommand->parsed())
        return cli::grey(grey, options);
    if (cropsCommand->parsed())
        return cli::crops(crops, options);
    if (subjectsCommand->parsed())
        return cli::subjects(subjects, options);
    if (looksCommand->parsed())
        return cli::looks(options);
    if (maskCommand->parsed())
        return cli::mask(mask, options);
    if (removeCommand->parsed())
        return cli::remove(remove, options);
    if (prepareCommand->parsed())
        return cli::prepare(prepare, options);
    if (renderCommand->parsed()) {
        if (const int code = settle(render.settings, space, render.out, options))
            return code;
        return cli::render(render, options);
    }
    if (apply.out.empty() && apply.save.empty() && apply.masksOut.empty())
        return cli::fail({ErrorKind::InvalidArgument, "apply", "give -o, --save or --mask-out"},
                         options);
    if (!apply.save.empty() && !isContainerPath(apply.save))
        return cli::fail(
            {ErrorKind::InvalidArgument, apply.save, "its name must end in .buttonhole"}, options);
    if (!apply.out.empty())
        if (const int code = settle(apply.settings, space, apply.out, options))
            return code;
    return cli::apply(apply, options);
}

} // namespace

int runCli(int argc, char **argv)
{
    cli::OutputOptions options;
    try {
        return run(argc, argv, options);
    } catch (...) {
        return cli::fail(caughtError(argc > 2 ? argv[2] : "buttonhole-cli"), options);
    }
}

} // namespace buttonhole
