#pragma once

#include "window/file_work.h"

#include <functional>
#include <optional>

namespace buttonhole::app
{

/// The way of work into .buttonhole files, and the questions about what is not saved.
class Saving : public FileWork
{
    Q_OBJECT
public:
    /// @param windowJson how the window stands, kept with the work
    Saving(const Of &of, std::function<std::string()> windowJson)
        : FileWork(of), m_windowJson(std::move(windowJson))
    {
    }

    bool isBusy() const { return m_isBusy; }
    void save();
    void chooseAndSave();
    void saveTo(const QString &path);
    /// Runs `then` at once or after the user said what to do with unsaved work.
    void afterUnsaved(const std::function<void()> &then);
    /// Runs `then` when what is being saved is on the disk.
    void whenSaved(const std::function<void()> &then) { m_then = then; }

Q_SIGNALS:
    void saved(bool succeeded);

private:
    struct Order {
        QString path;
        Session::Snapshot snapshot;
        std::shared_ptr<const PhotoLevels> levels;
        SaveOptions options;
    };
    void start(Order order);
    void receive(const QString &path, const Result<Session::Snapshot> &written);
    void askAboutConflict(const QString &path, const Error &error);

    std::function<std::string()> m_windowJson;
    bool m_isBusy = false;
    std::optional<Order> m_next; ///< asked for while saving
    std::function<void()> m_then;
};

} // namespace buttonhole::app
