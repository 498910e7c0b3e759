#pragma once

#include "base/result.h"

#include <QApplication>

namespace buttonhole::app
{

/// The application: what is thrown while an event is handled does not end it, and a session that
/// ends (SIGTERM, SIGHUP, SIGINT) is told to the window while there is time.
class Application : public QApplication
{
    Q_OBJECT
public:
    Application(int &argc, char **argv);
    ~Application() override;
    bool notify(QObject *receiver, QEvent *event) override;

Q_SIGNALS:
    void failed(const buttonhole::Error &error);
    void endAsked(); ///< by a signal; who hears it saves what there is and quits

private:
    void listenForSignals();
};

} // namespace buttonhole::app
