#pragma once

#include "window/file_work.h"

namespace buttonhole::app
{

/// The way of pictures out into files.
class Exporting : public FileWork
{
    Q_OBJECT
public:
    using FileWork::FileWork;

    /// By a dialog: how, then where to.
    void ask();
    void exportTo(const QString &path, const Delivery &delivery);
    /// Each take beside that path, by its name; what is there already is left.
    void exportTakes(const QString &path, const Delivery &delivery);
    bool isBusy() const { return m_inHand > 0; }
    /// Px that are exported for one of the picture, as settings were the last time.
    double scale() const;

Q_SIGNALS:
    void exported(bool succeeded);

private:
    void chooseFile(const Delivery &delivery, bool ofAllTakes);
    int m_inHand = 0; ///< exports that are being written
};

} // namespace buttonhole::app
