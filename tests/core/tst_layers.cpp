#include "registry.h"

#include <QDirIterator>
#include <QFile>
#include <QMap>
#include <QRegularExpression>

/// The arrows between the folders point one way (docs/architecture.md), and libraries stay behind
/// the modules that wrap them: link targets alone would not stop a wrong include.
class TstLayers : public QObject
{
    Q_OBJECT

    static QStringList includesOf(const QString &file)
    {
        QFile source(file);
        if (!source.open(QIODevice::ReadOnly))
            return {};
        QStringList out;
        static const QRegularExpression line(QStringLiteral("^#include [<\"]([^>\"]+)[>\"]"),
                                             QRegularExpression::MultilineOption);
        auto it = line.globalMatch(QString::fromUtf8(source.readAll()));
        while (it.hasNext())
            out.append(it.next().captured(1));
        return out;
    }

    static QStringList sourcesBelow(const char *folder)
    {
        QStringList out;
        QDirIterator it(QStringLiteral(BUTTONHOLE_SOURCE "/") + QLatin1String(folder),
                        {QStringLiteral("*.h"), QStringLiteral("*.cpp")}, QDir::Files,
                        QDirIterator::Subdirectories);
        while (it.hasNext())
            out.append(it.next());
        return out;
    }

    /// @param mayInclude by folder: those of the same part that it may look into
    static void checkFolders(const char *part, const QMap<QString, QStringList> &mayInclude)
    {
        int checked = 0;
        const QString mark = QLatin1Char('/') + QLatin1String(part) + QLatin1Char('/');
        for (const QString &file : sourcesBelow(part)) {
            const QString module = file.section(mark, -1).section(u'/', 0, 0);
            if (module.endsWith(QStringLiteral(".cpp"))) // the program's main
                continue;
            QVERIFY2(mayInclude.contains(module), qPrintable(module));
            for (const QString &include : includesOf(file)) {
                const QString other = include.section(u'/', 0, 0);
                if (!mayInclude.contains(other) || other == module)
                    continue;
                QVERIFY2(mayInclude[module].contains(other),
                         qPrintable(file + QStringLiteral(" includes ") + include));
                ++checked;
            }
        }
        QVERIFY(checked > 30);
    }

private Q_SLOTS:
    void coreFoldersIncludeOnlyDownwards()
    {
        const QMap<QString, QStringList> mayInclude{
            {"base", {}},
            {"raster", {"base"}},
            {"geometry", {"base"}},
            {"colour", {"base", "raster"}},
            {"io", {"base", "raster", "colour"}},
            {"tone", {"base", "raster", "colour"}},
            {"segment", {"base", "raster", "colour", "io"}},
            {"nets", {"base", "io"}},
            {"subject", {"base", "raster", "geometry", "colour", "io", "segment", "nets"}},
            {"matting", {"base", "raster", "colour", "io", "segment", "nets"}},
            {"clean", {"base", "raster", "colour", "io"}},
            {"light", {"base", "raster", "colour", "io", "clean"}},
            {"lettering", {"base", "raster", "io"}},
            {"lens", {"base", "io", "light"}},
            {"mask", {"base", "raster", "colour", "io", "segment", "subject", "matting"}},
            {"document",
             {"base", "raster", "geometry", "colour", "io", "segment", "subject", "tone", "mask",
              "clean", "light"}},
            {"render",
             {"base", "raster", "geometry", "colour", "io", "tone", "mask", "light", "document"}},
            {"export",
             {"base", "raster", "colour", "io", "tone", "mask", "matting", "light", "lettering",
              "document", "render"}},
            {"job", {"base", "raster", "io", "lettering", "document", "render", "export"}}};
        checkFolders("core", mayInclude);
    }

    void windowFoldersIncludeOnlyDownwards()
    {
        const QMap<QString, QStringList> mayInclude{
            {"jobs", {}},
            {"settings", {}},
            {"view", {}},
            {"commands", {"jobs"}},
            {"style", {"settings"}},
            {"controls", {"style"}},
            {"grey", {"commands", "controls", "jobs", "style"}},
            {"prepare", {"commands", "controls", "jobs", "style", "view"}},
            {"tools", {"commands", "controls", "jobs", "style", "view"}},
            {"canvas", {"commands", "grey", "jobs", "settings", "style", "tools", "view"}},
            {"check", {"canvas", "commands", "jobs", "style"}},
            {"delivery", {"commands", "controls", "jobs", "style"}},
            {"sheet", {"controls", "jobs", "style"}},
            {"presets", {"commands", "controls", "jobs", "style"}},
            {"ticket", {"commands", "controls", "jobs", "prepare", "style"}},
            {"window",
             {"canvas", "check", "commands", "controls", "delivery", "grey", "jobs", "prepare",
              "presets", "settings", "sheet", "style", "ticket", "tools", "view"}}};
        checkFolders("app", mayInclude);
    }

    void coreAndCliKnowNoQtAndNoWindow()
    {
        for (const char *folder : {"core", "cli"})
            for (const QString &file : sourcesBelow(folder))
                for (const QString &include : includesOf(file)) {
                    static const QRegularExpression qt(QStringLiteral("^(Q[A-Z]|Qt)"));
                    QVERIFY2(!qt.match(include).hasMatch(), qPrintable(file));
                    QVERIFY2(!include.startsWith(QStringLiteral("window/")), qPrintable(file));
                }
    }

    void openCvShowsWhereThingsAreCutOutOnly()
    {
        const QStringList inHeaders{"segment", "subject", "matting", "nets"};
        const QStringList inSources =
            inHeaders + QStringList{"clean", "lens", "light", "mask", "render", "tone"};
        int checked = 0;
        for (const char *part : {"core", "cli", "app"})
            for (const QString &file : sourcesBelow(part))
                for (const QString &include : includesOf(file)) {
                    if (!include.startsWith(QStringLiteral("opencv2/")))
                        continue;
                    const QString folder =
                        file.section(QStringLiteral("/core/"), 1).section(u'/', 0, 0);
                    const bool isHeader = file.endsWith(QStringLiteral(".h"));
                    QVERIFY2((isHeader ? inHeaders : inSources).contains(folder), qPrintable(file));
                    ++checked;
                }
        QVERIFY(checked > 10);
    }

    void librariesStayBehindTheirModule()
    {
        const QMap<QString, QString> home{
            {"tbb/", "raster"},    {"lcms2.h", "colour"}, {"exiv2/", "io"},
            {"jpeglib.h", "io"},   {"png.h", "io"},       {"OpenImageIO/", "io"},
            {"zip.h", "document"}, {"lz4.h", "raster"},   {"lensfun/", "lens"}};
        for (const QString &file : sourcesBelow("core"))
            for (const QString &include : includesOf(file))
                for (auto it = home.begin(); it != home.end(); ++it) {
                    if (!include.startsWith(it.key()))
                        continue;
                    QVERIFY2(file.contains(QStringLiteral("/core/") + it.value()),
                             qPrintable(file + QStringLiteral(" includes ") + include));
                    QVERIFY2(file.endsWith(QStringLiteral(".cpp")), qPrintable(file));
                }
    }
};

BUTTONHOLE_TEST(TstLayers)

#include "tst_layers.moc"
