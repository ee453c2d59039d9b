#pragma once
#include <filesystem>
#include <QObject>
#include <QString>
#include <QTimer>
#include <thread>
#include <vector>

class Document;

/// Keeps a copy of unsaved work in the user's data folder, a few seconds after each change, written on a thread of its
/// own. As long as the program runs it holds a lock beside the copy, which the system lets go whatever ends the program: a
/// copy whose lock is free was left by a run that did not end well.
class Autosave : public QObject {
    Q_OBJECT

  public:
    Autosave(Document& document, QObject* parent);
    ~Autosave() override;

    /// A copy left by a run that is no longer alive: the copy, the project it belongs to (empty for one that was never
    /// saved), and when it was written, for people.
    struct Found {
        std::filesystem::path copy, project;
        QString when;
    };
    /// All of them, the newest first.
    static std::vector<Found> find();
    static void discard(const Found& found);
    /// Takes the files along that a copy of a project that was never saved has, into this run's own.
    void adoptFiles(const Found& found);
    static std::filesystem::path folder();

    const std::filesystem::path& copy() const { return copy_; }
    /// A place of this run's own beside the copy.
    std::filesystem::path beside(const char* ending) const;
    /// What runs that are no longer alive have left at such places.
    static std::vector<std::filesystem::path> leftBeside(const char* ending);
    /// Writes now, as before something risky.
    void write();

  private:
    void changed();

    Document& document_;
    QTimer timer_;
    std::thread writer_;
    std::filesystem::path copy_;
    int lock_ = -1;  ///< the open file that is locked
};
