#pragma once
#include <atomic>
#include <exception>
#include <QApplication>

/// The application with a net under it: what an event or a worker throws is written to a log beside the autosave and told in
/// a sentence; the event is given up, the scene stays as it was, and the work goes on.
class Application : public QApplication {
    Q_OBJECT

  public:
    Application(int& argc, char** argv);
    static Application* instance();
    bool notify(QObject* receiver, QEvent* event) override;

    /// Something that nobody foresaw, from whichever thread. `where` says what was at work.
    void caught(const QString& where, const std::exception& fault);
    /// How many there were.
    int faults() const { return faults_; }

  signals:
    /// For people, on the interface's thread.
    void faultTold(const QString& sentence);

  private:
    std::atomic<int> faults_{0};
};

/// Does the work; what it throws unforeseen is caught by the application, if there is one, and the work is given up.
template <class Work>
void guarded(const QString& where, Work work) {
    try {
        work();
    } catch (const std::exception& fault) {
        if (auto* application = Application::instance()) return application->caught(where, fault);
        throw;
    }
}
