#pragma once
#include <filesystem>
#include <optional>
#include <QObject>
#include <QTimer>
#include <thread>

class Document;

/// Keeps a copy of unsaved work in the user's data folder, a few seconds after each change, written on a thread of its
/// own. A copy that is still there at the next start means the program did not end well.
class Autosave : public QObject {
    Q_OBJECT

  public:
    Autosave(Document& document, QObject* parent);
    ~Autosave() override;

    /// A copy left by a run that is no longer alive, if there is one: the copy and the project it belongs to.
    struct Found {
        std::filesystem::path copy, project;
    };
    static std::optional<Found> find();
    static void discard(const Found& found);
    static std::filesystem::path folder();

    /// Writes now, as before something risky.
    void write();

  private:
    void changed();

    Document& document_;
    QTimer timer_;
    std::thread writer_;
    std::filesystem::path copy_;
};
