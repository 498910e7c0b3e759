#include "window/application.h"
#include "window/main_window.h"

#include <QCommandLineParser>
#include <QStandardPaths>
#include <QTimer>

#include <cstdlib>

#include <unistd.h>

namespace
{

void grabWhenSettled(buttonhole::app::MainWindow &window, const QString &file)
{
    auto *timer = new QTimer(&window);
    QObject::connect(timer, &QTimer::timeout, &window, [&window, file] {
        if (!window.jobs().isIdle() || !window.canvas().isSettled())
            return;
        const bool written = window.grab().save(file);
        QCoreApplication::exit(written ? 0 : 1);
    });
    timer->start(100);
}

/// OpenMP's helpers spin while they wait, on processors that the window and others need: the large
/// network then takes twice as long beside any other work. How they wait is read once, when the
/// library is loaded, before main(). Where it cannot start again it goes on as it is.
void startAgainWithoutSpinning(char **argv)
{
    const char *policy = "OMP_WAIT_POLICY";
    if (std::getenv(policy))
        return;
    setenv(policy, "passive", 1);
    execv("/proc/self/exe", argv);
}

} // namespace

int main(int argc, char **argv)
{
    startAgainWithoutSpinning(argv);
    buttonhole::app::Application application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("buttonhole"));
    QCoreApplication::setApplicationVersion(QStringLiteral(BUTTONHOLE_VERSION));
    QGuiApplication::setApplicationDisplayName(QStringLiteral("Buttonhole"));
    QGuiApplication::setDesktopFileName(QStringLiteral("buttonhole"));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Turn a photograph black and white and keep what matters in colour."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("files"),
                                 QStringLiteral("Photos or .buttonhole files"),
                                 QStringLiteral("[files...]"));
    const QCommandLineOption screenshot(
        QStringLiteral("screenshot"),
        QStringLiteral("Write a picture of the window once the photo is shown, then quit."),
        QStringLiteral("file"));
    parser.addOption(screenshot);
    parser.process(application);

    buttonhole::app::MainWindow window(
        buttonhole::app::Settings::defaultFile(),
        QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
            QStringLiteral("/unsaved"));
    using buttonhole::app::Application;
    using buttonhole::app::MainWindow;
    QObject::connect(&application, &Application::failed, &window, &MainWindow::showError);
    QObject::connect(&application, &Application::endAsked, &window, [&window] {
        window.endNow();
        QCoreApplication::quit();
    });
    window.show();
    window.opening().offerLeftWork();
    window.opening().openJob(parser.positionalArguments());
    if (parser.isSet(screenshot))
        grabWhenSettled(window, parser.value(screenshot));
    return Application::exec();
}
