#pragma once

#include "job/print.h"
#include "jobs/jobs.h"

#include <QSize>
#include <QStringList>

class QPrinter;

namespace buttonhole::app
{

/// Pictures on their way onto paper.
class Printing : public QObject
{
    Q_OBJECT
public:
    /// What is to be printed.
    struct Pictures {
        int count = 1;
        QString name; ///< of a PDF, without its ending
        QSize pixels; ///< of the first, if that is known
        /// Called on other threads.
        std::function<Result<PrintPicture>(const PrintPage &page, size_t index, const Run &run)>
            render;
    };
    Printing(Jobs &jobs, QWidget *window);

    /// By a dialog with a preview.
    void ask(const Pictures &pictures);
    void writePdf(const Pictures &pictures, const PrintPage &page, const QString &path);
    void print(const Pictures &pictures, const PrintPage &page,
               const std::shared_ptr<QPrinter> &printer);
    /// A printer that takes such pages, to its edges.
    static std::shared_ptr<QPrinter> makePrinter(const PrintPage &page, const QString &name);

Q_SIGNALS:
    void said(const QString &text);
    void failed(const buttonhole::Error &error);
    void printed(bool succeeded);

private:
    void choosePdf(const Pictures &pictures, const PrintPage &page);
    void choosePrinter(const Pictures &pictures, const PrintPage &page);
    void end(const Result<Printed> &done, const QString &what);

    Jobs &m_jobs;
    QWidget *m_window;
    PrintPage m_page; ///< as it was last
};

} // namespace buttonhole::app
