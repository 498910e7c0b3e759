#include "run.h"

#include "batch.h"
#include "commands.h"
#include "document/container.h"
#include "presets.h"
#include "print.h"
#include "remove.h"

#include <CLI/CLI.hpp>

#include <clocale>
#include <functional>
#include <memory>

namespace buttonhole
{

namespace
{

/// The options of an exported picture, the same for every command that writes one.
void addExportOptions(CLI::App &command, ExportSettings &settings)
{
    command.add_option("--quality", settings.quality, "of JPEG, WebP and AVIF, 1 to 100")
        ->capture_default_str();
    command.add_option("--bits", settings.bits, "bits per channel: 8, or 16 for PNG and TIFF")
        ->capture_default_str();
    command.add_option("--long-edge", settings.longEdgePx,
                       "longer side in pixels; 0 = the picture's own size (never enlarged)");
    command
        .add_option_function<std::string>(
            "--profile",
            [&settings](const std::string &space) {
                settings.space =
                    space == "srgb" ? ExportSettings::Space::Srgb : ExportSettings::Space::Photo;
            },
            "colour profile of the file: photo or srgb")
        ->check(CLI::IsMember({"photo", "srgb"}));
    command.add_flag("--strip-location", settings.stripLocation,
                     "leave out where the photo was taken");
    command.add_option("--sharpen", settings.sharpen, "for the size it leaves in, 0 to 1");
    command.add_flag_callback(
        "--unsigned", [&settings] { settings.signs = false; }, "without the take's signature");
    command
        .add_option_function<std::string>(
            "--metadata",
            [&settings](const std::string &word) {
                settings.carried = word == "all"       ? Metadata::Carried::All
                                   : word == "credits" ? Metadata::Carried::Credits
                                                       : Metadata::Carried::Nothing;
            },
            "what of the photo's goes on: all, credits (author, copyright, description) or none")
        ->check(CLI::IsMember({"all", "credits", "none"}));
    command.add_option("--copyright", settings.copyright, "in the place of the photo's");
    command.add_option("--description", settings.description, "in the place of the photo's");
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
    command
        .add_option("--preset", change.presets,
                    "a preset, by name or its .json file; may be given again")
        ->allow_extra_args(false);
    command.add_flag("--place-all", change.placesAll,
                     "of presets, also strokes and outlines, at the same place in the frame");
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

/// One of the program's commands: its options, and what it does.
struct Command {
    CLI::App *app;
    std::function<int()> run;
};

/// Where commands are added, each with its arguments, which live as long as it.
struct Commands {
    CLI::App &app;
    const cli::OutputOptions &options;
    std::vector<Command> all = {};

    template <class Arguments>
    void add(const char *name, const char *help,
             const std::function<void(CLI::App &, Arguments &)> &describe,
             const std::function<int(Arguments &, const cli::OutputOptions &)> &run)
    {
        const auto arguments = std::make_shared<Arguments>();
        CLI::App *command = app.add_subcommand(name, help);
        describe(*command, *arguments);
        all.push_back(
            {command, [arguments, run, &options = options] { return run(*arguments, options); }});
    }
};

/// A photo or work to look at.
template <class Arguments>
void addFile(CLI::App &command, Arguments &arguments)
{
    command.add_option("FILE", arguments.file, "photo or .buttonhole file")->required();
    command.add_option("--photo", arguments.photo, "where the photo is now, if it was moved");
}

template <class Arguments>
void addFileAndTake(CLI::App &command, Arguments &arguments)
{
    addFile(command, arguments);
    command.add_option("--take", arguments.take, "name of the take; the current one otherwise");
}

constexpr const char *kPictureHelp = "picture to write: .jpg, .png, .tif, .webp, .avif or .ora";

void addLooking(Commands &to)
{
    to.add<cli::InfoArguments>("info", "Print what is known of a file, as JSON",
                               addFile<cli::InfoArguments>, cli::info);
    to.add<cli::GreyInfoArguments>(
        "grey", "Print the grey mix of a file, as JSON",
        [](CLI::App &command, auto &grey) {
            addFileAndTake(command, grey);
            addChangeOptions(command, grey.change);
        },
        cli::grey);
    to.add<cli::SubjectsArguments>(
        "subjects", "Print what is found in a photo, as JSON with steps for a take",
        [](CLI::App &command, auto &subjects) {
            addFile(command, subjects);
            command.add_flag("--outlines", subjects.traces, "with what would be kept of each");
        },
        cli::subjects);
    to.add<cli::CropsArguments>(
        "crops", "Print crops that hold the main subject well, as JSON, the best first",
        [](CLI::App &command, auto &crops) {
            addFile(command, crops);
            command.add_option("--ratio", crops.ratio, "width to height, e.g. 1.5; any otherwise")
                ->check(CLI::Range(0.1, 10.0));
        },
        cli::crops);
    struct Nothing {
    };
    to.add<Nothing>(
        "looks", "Print the looks there are, as JSON", [](CLI::App &, Nothing &) {},
        [](Nothing &, const cli::OutputOptions &options) { return cli::looks(options); });
    to.add<Nothing>(
        "presets", "Print the presets there are, and what one may hold, as JSON",
        [](CLI::App &, Nothing &) {},
        [](Nothing &, const cli::OutputOptions &options) { return cli::presets(options); });
}

void addMaking(Commands &to)
{
    to.add<cli::RenderArguments>(
        "render", "Write the finished picture",
        [](CLI::App &command, auto &render) {
            addFileAndTake(command, render);
            command.add_option("-o,--out", render.out, kPictureHelp)->required();
            addChangeOptions(command, render.change);
            addExportOptions(command, render.settings);
        },
        cli::render);
    to.add<cli::MaskArguments>(
        "mask", "Write a keep's mask as a grey PNG",
        [](CLI::App &command, auto &mask) {
            addFileAndTake(command, mask);
            command.add_option("--keep", mask.keep, "name of the keep")->required();
            command.add_option("-o,--out", mask.out, "PNG to write")->required();
            command.add_option("--bits", mask.bits, "8 or 16")->capture_default_str();
        },
        cli::mask);
    to.add<cli::PrepareArguments>(
        "prepare", "Write photos made ready, in colour; one that fails does not stop the others",
        [](CLI::App &command, auto &prepare) {
            command.add_option("PHOTO", prepare.photos, "photos, or folders of them")->required();
            command
                .add_option("-o,--out", prepare.out, "picture to write; for more than one a folder")
                ->required();
            addFindingOptions(command, prepare.find);
        },
        cli::prepare);
    to.add<cli::PresetArguments>(
        "preset", "Make a preset of what a file's take is set to",
        [](CLI::App &command, auto &preset) {
            addFileAndTake(command, preset);
            command.add_option("--name", preset.name, "its name")->required();
            command
                .add_option(
                    "--groups", preset.groups,
                    "what it holds, e.g. grey,vignette (see: presets); all that is set otherwise")
                ->delimiter(',');
            auto *folder = command.add_option("--folder", preset.folder, "folder of the store's");
            command.add_option("-o,--out", preset.out, "file to write instead of the store")
                ->excludes(folder);
            addChangeOptions(command, preset.change);
        },
        cli::preset);
}

/// A word of the delivery, set on top of what a preset says.
template <class Value, class Set>
CLI::Option *addDelivery(CLI::App &command, cli::BatchArguments &batch, const char *name,
                         const char *help, Set set)
{
    return command.add_option_function<Value>(
        name,
        [&batch, set](const Value &value) {
            batch.changes.push_back([=](Delivery &delivery) { set(delivery, value); });
        },
        help);
}

void describeBatch(CLI::App &command, cli::BatchArguments &batch)
{
    command.add_option("INPUT", batch.inputs, "photos, .buttonhole files, or folders of them")
        ->required();
    command.add_option("-o,--out", batch.out, "folder to write to")->required();
    command
        .add_option("--preset", batch.presets,
                    "a preset, by name or its .json file; may be given again")
        ->allow_extra_args(false); // what follows is an input
    command.add_option("--export-preset", batch.exportPreset, "one that says how it is exported");
    command.add_flag("--place-all", batch.placesAll,
                     "of presets, also strokes and outlines, at the same place in the frame");
    command.add_flag("--all-takes", batch.allTakes,
                     "of .buttonhole files, not the current one alone");
    command.add_flag("--resume", batch.resumes, "go on where the manifest in the folder ends");
    command.add_option("--jobs", batch.workers, "photos at a time; 2 otherwise")
        ->check(CLI::Range(1, 64));
    addDelivery<std::string>(
        command, batch, "--format", "jpeg, png, tiff, webp, avif or openraster",
        [](Delivery &delivery, const std::string &word) {
            delivery.picture.format = formatFromWord(word).value_or(delivery.picture.format);
        })
        ->check([](const std::string &word) {
            return formatFromWord(word) ? std::string() : "there is no format " + word;
        });
    addDelivery<int>(command, batch, "--quality", "of JPEG, WebP and AVIF",
                     [](Delivery &delivery, int value) { delivery.picture.quality = value; })
        ->check(CLI::Range(1, 100));
    addDelivery<int>(command, batch, "--bits", "8, or 16 for PNG and TIFF",
                     [](Delivery &delivery, int value) { delivery.picture.bits = value; });
    addDelivery<int>(command, batch, "--long-edge", "px; never enlarged",
                     [](Delivery &delivery, int value) {
                         delivery.size = {SizeRule::Kind::LongEdge, double(value), 0, 0};
                     });
    addDelivery<double>(command, batch, "--megapixels", "never enlarged",
                        [](Delivery &delivery, double value) {
                            delivery.size = {SizeRule::Kind::Megapixels, value, 0, 0};
                        });
    addDelivery<double>(
        command, batch, "--sharpen", "for the size it leaves in, 0 to 1",
        [](Delivery &delivery, double value) { delivery.picture.sharpen = float(value); })
        ->check(CLI::Range(0.0, 1.0));
    addDelivery<std::string>(
        command, batch, "--name",
        "of {name}, {take}, {taken}, {date}, {number}; {name}-keep otherwise",
        [](Delivery &delivery, const std::string &pattern) { delivery.name = pattern; });
    addDelivery<std::string>(command, batch, "--if-there", "number, replace or skip",
                             [](Delivery &delivery, const std::string &word) {
                                 delivery.ifThere = word == "replace" ? Delivery::IfThere::Replace
                                                    : word == "skip"  ? Delivery::IfThere::Skip
                                                                      : Delivery::IfThere::Number;
                             })
        ->check(CLI::IsMember({"number", "replace", "skip"}));
    command.add_flag_callback(
        "--masks",
        [&batch] { batch.changes.push_back([](Delivery &delivery) { delivery.masks = true; }); },
        "each keep's mask beside the picture, as a PNG of 16 bits");
}

void describePrint(CLI::App &command, cli::PrintArguments &print)
{
    std::string known;
    for (const Paper &each : papers())
        known += (known.empty() ? "" : ", ") + std::string(each.name);
    command.add_option("FILE", print.inputs, "photos or .buttonhole files")->required();
    command.add_option("-o,--out", print.out, "PDF to write")->required();
    command.add_option("--take", print.take, "name of the take; the current one otherwise");
    auto *paper = command.add_option("--paper", print.paper, known)->capture_default_str();
    command.add_option("--size", print.size, "or of that size, mm: WIDTH HEIGHT")
        ->expected(2)
        ->excludes(paper);
    command.add_flag("--lying", print.isLying, "the paper lies on its long side");
    command.add_option("--margin", print.page.marginMm, "mm on every side")->capture_default_str();
    command.add_option("--grid", print.grid, "so many on a page: COLUMNS ROWS")->expected(2);
    command.add_option("--gap", print.page.gapMm, "mm between them")->capture_default_str();
    command.add_option("--long-edge", print.page.longEdgeMm,
                       "of a picture, mm; as large as fits otherwise");
    command.add_option("--dpi", print.page.dpi, "what is rendered; never enlarged")
        ->capture_default_str();
}

void describeRemove(CLI::App &command, cli::RemoveArguments &remove)
{
    addFileAndTake(command, remove);
    auto *ofKeep = command.add_option("--keep", remove.keep, "the keep whose mask it is");
    command.add_option("--mask", remove.mask, "or a grey picture of the photo's size")
        ->excludes(ofKeep);
    command.add_option("-o,--out", remove.out, kPictureHelp)->required();
    command.add_option("--grow", remove.growPx, "make the mask larger by that, px")
        ->check(CLI::Range(0, 300))
        ->capture_default_str();
    command.add_option("--try", remove.attempt, "another number, another answer")
        ->check(CLI::Range(0, 1000));
    command.add_option("--source", remove.source, "fill from there only: X Y WIDTH HEIGHT, pixels")
        ->expected(4);
}

void describeApply(CLI::App &command, cli::ApplyArguments &apply)
{
    command.add_option("PHOTO", apply.photo, "photo")->required();
    command.add_option("--take", apply.take, "take as JSON (docs/format.md)")->required();
    command.add_option("-o,--out", apply.out, kPictureHelp);
    command
        .add_option("--mask-in,--mask-of", apply.masksIn,
                    "keep's name, then a grey picture of the photo's size to add to its mask")
        ->type_size(2)
        ->allow_extra_args();
    command
        .add_option("--mask-out", apply.masksOut,
                    "keep's name, then the PNG that its mask is written to, at 16 bits")
        ->type_size(2)
        ->allow_extra_args();
    command.add_option("--save", apply.save, "also save a .buttonhole file");
    addChangeOptions(command, apply.change);
    addExportOptions(command, apply.settings);
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

    Commands commands{app, options};
    addLooking(commands);
    addMaking(commands);
    commands.add<cli::RemoveArguments>(
        "remove", "Write the photo without what a mask covers, filled from round about",
        describeRemove, cli::remove);
    commands.add<cli::BatchArguments>("batch",
                                      "Deliver many photos the same way; prints a report as JSON",
                                      describeBatch, cli::batch);
    commands.add<cli::PrintArguments>("print", "Lay pictures on pages of a PDF", describePrint,
                                      cli::printPages);
    commands.add<cli::ApplyArguments>("apply", "Apply a take written as JSON to a photo",
                                      describeApply, cli::apply);
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
    for (const Command &command : commands.all)
        if (command.app->parsed())
            return command.run();
    return cli::WrongUse;
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
