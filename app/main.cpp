#include "window/main_window.h"

#include <QApplication>
#include <QCommandLineParser>

int main(int argc, char **argv)
{
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("buttonhole"));
    QGuiApplication::setApplicationDisplayName(QStringLiteral("Buttonhole"));
    QGuiApplication::setDesktopFileName(QStringLiteral("buttonhole"));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Turn a photograph black and white and keep what matters in colour."));
    parser.addHelpOption();
    parser.addPositionalArgument(QStringLiteral("files"),
                                 QStringLiteral("Photos or .buttonhole files"),
                                 QStringLiteral("[files...]"));
    parser.process(application);

    buttonhole::app::MainWindow window(buttonhole::app::Settings::defaultFile());
    window.show();
    window.openJob(parser.positionalArguments());
    return QApplication::exec();
}
