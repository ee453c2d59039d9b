// gilded-swarm-random-use: uses the real window at random, and does the same again.
//   gilded-swarm-random-use SEED ACTIONS PROJECT…      so many actions on each; what was done is written to random-use.log
//   gilded-swarm-random-use replay LOG PROJECT
// Ends with 1 if anything was caught by the net under the window, a saved project did not open as it was, or undoing did not
// come back to the beginning.
#include <atomic>
#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <QFile>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTextStream>
#include <QTimer>
#include <thread>

#include "app/document/application.h"
#include "app/theme/theme.h"
#include "app/tour/random_use.h"
#include "app/window/main_window.h"

namespace fs = std::filesystem;

namespace {

/// A log that is whole up to the last action, whatever ends the process.
void writeLog(const QStringList& lines) {
    QFile log("random-use.log");
    if (log.open(QIODevice::WriteOnly)) log.write((lines.join('\n') + "\n").toUtf8());
}

/// The project and the files beside it in a folder of their own.
QString copied(const QString& project, const QTemporaryDir& folder) {
    const fs::path from(project.toStdString());
    for (const auto& entry : fs::directory_iterator(from.parent_path().empty() ? "." : from.parent_path()))
        if (entry.is_regular_file())
            fs::copy_file(entry.path(), fs::path(folder.path().toStdString()) / entry.path().filename(),
                          fs::copy_options::overwrite_existing);
    return folder.filePath(QString::fromStdString(from.filename().string()));
}

/// Ends the process if the window stands still for a minute.
class Watchdog {
  public:
    Watchdog() : thread_([this] { run(); }) {}
    ~Watchdog() {
        stop_ = true;
        thread_.join();
    }
    void alive() { ++ticks_; }

  private:
    void run() {
        int before = -1, still = 0;
        while (!stop_) {
            std::this_thread::sleep_for(std::chrono::seconds(1));
            still = ticks_ == before ? still + 1 : 0;
            before = ticks_;
            if (still < 120) continue;
            std::fprintf(stderr, "gilded-swarm-random-use: the window stands still\n");
            std::abort();
        }
    }
    std::atomic<int> ticks_{0};
    std::atomic<bool> stop_{false};
    std::thread thread_;
};

bool use(const QString& project, unsigned seed, int actions, const QStringList& lines) {
    QTextStream out(stdout);
    QTemporaryDir folder;
    const QString copy = copied(project, folder);
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!window.openFile(copy)) {
        out << project << ": can't be opened\n";
        return false;
    }
    RandomUse hand(window, seed, copy);
    if (!lines.isEmpty()) hand.replay(lines);
    Watchdog watchdog;
    QTimer pulse;
    QObject::connect(&pulse, &QTimer::timeout, [&] {
        watchdog.alive();
        writeLog(hand.done());
    });
    pulse.start(200);
    const int faultsBefore = Application::instance()->faults();
    bool over = false;
    QObject::connect(&hand, &RandomUse::finished, [&] { over = true; });
    hand.start(actions);
    while (!over) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents | QEventLoop::AllEvents, 50);
    writeLog(hand.done());
    const int faults = Application::instance()->faults() - faultsBefore;
    out << project << ": " << hand.done().size() << " actions, " << hand.saves() << " saves, " << faults << " faults caught\n";
    for (const QString& problem : hand.problems()) out << "  " << problem << '\n';
    return faults == 0 && hand.problems().isEmpty();
}

}  // namespace

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);  // the user's own settings and copies are left alone
    Application application(argc, argv);
    QApplication::setOrganizationName("gilded-swarm");
    QApplication::setApplicationName("gilded-swarm-random-use");
    theme::apply(application);
    const QStringList arguments = QApplication::arguments();
    if (arguments.size() < 4) {
        QTextStream(stderr) << "gilded-swarm-random-use SEED ACTIONS PROJECT…, or replay LOG PROJECT\n";
        return 2;
    }
    QStringList lines;
    if (arguments[1] == "replay") {
        QFile log(arguments[2]);
        if (!log.open(QIODevice::ReadOnly)) return 2;
        lines = QString::fromUtf8(log.readAll()).split('\n', Qt::SkipEmptyParts);
    }
    bool fine = true;
    for (int k = 3; k < arguments.size(); ++k)
        fine = use(arguments[k], arguments[1].toUInt() + static_cast<unsigned>(k), arguments[2].toInt(), lines) && fine;
    return fine ? 0 : 1;
}
