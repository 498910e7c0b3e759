#include "window/application.h"

#include <QSocketNotifier>

#include <csignal>

#include <fcntl.h>
#include <unistd.h>

namespace buttonhole::app
{

namespace
{

int signalPipe[2] = {-1, -1};

/// Only what a signal handler may do: the event loop reads the other end.
void onSignal(int)
{
    const char byte = 1;
    [[maybe_unused]] const ssize_t written = ::write(signalPipe[1], &byte, 1);
}

} // namespace

Application::Application(int &argc, char **argv) : QApplication(argc, argv)
{
    listenForSignals();
}

Application::~Application()
{
    for (const int number : {SIGTERM, SIGHUP, SIGINT})
        std::signal(number, SIG_DFL);
    for (int &end : signalPipe) {
        ::close(end);
        end = -1;
    }
}

void Application::listenForSignals()
{
    if (::pipe2(signalPipe, O_CLOEXEC | O_NONBLOCK) != 0)
        return;
    auto *notifier = new QSocketNotifier(signalPipe[0], QSocketNotifier::Read, this);
    connect(notifier, &QSocketNotifier::activated, this, [this] {
        char bytes[16];
        while (::read(signalPipe[0], bytes, sizeof bytes) > 0) {
        }
        Q_EMIT endAsked();
    });
    for (const int number : {SIGTERM, SIGHUP, SIGINT})
        std::signal(number, onSignal);
}

bool Application::notify(QObject *receiver, QEvent *event)
{
    try {
        return QApplication::notify(receiver, event);
    } catch (...) {
        Q_EMIT failed(caughtError(tr("a move in the window").toStdString()));
        return true;
    }
}

} // namespace buttonhole::app
