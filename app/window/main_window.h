#pragma once
#include <optional>
#include <QElapsedTimer>
#include <QMainWindow>

#include "app/document/autosave.h"
#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/finder/finder.h"
#include "app/time/play.h"

class ExportPanel;
class Greeting;
class Line;
class Picture;
class Preferences;
class QLabel;
class QLineEdit;
class QPushButton;
class QSplitter;
class QStackedWidget;
class QToolButton;
class Rail;
class SceneList;
class Settings;
class TimePanel;

/// The window: the top bar, the rail over the full width, the scene list, the picture over the time panel, and the
/// settings at the right down to the bottom edge.
class MainWindow : public QMainWindow {
    Q_OBJECT

  public:
    MainWindow();
    ~MainWindow() override;

    Document& document() { return document_; }
    Evaluation& evaluation() { return *evaluation_; }
    Picture& picture() { return *picture_; }
    Play& play() { return *play_; }
    Rail& rail() { return *rail_; }
    Settings& settings() { return *settings_; }
    TimePanel& time() { return *time_; }

    /// Offers work that an earlier run left behind, in the line.
    /// Offers the copies that runs left which did not end well.
    void offerRecovery();
    void showWorkView(const QString& view);  ///< "Compose" or "Export"
    bool openFile(const QString& path);
    void openFinder();
    /// One sentence in the line over the picture; empty takes it away.
    void tell(const QString& sentence);
    void renewOnce();

  protected:
    void closeEvent(QCloseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    struct Command {
        QString label, shortcut;
        std::function<void()> act;
        std::function<bool()> possible;
    };
    void buildTop(QWidget* bar);
    void buildCommands();
    std::vector<Finder::Item> findable();
    void compose();
    void refreshTitle();
    void refreshGreeting();
    void sizeTime();
    void resizeEvent(QResizeEvent*) override { sizeTime(); }
    void newSwarm();
    void askOpen();
    bool save();
    bool saveAs();
    /// Asks in the line before unsaved work would be left; goes on when answered.
    void leaveProject(const std::function<void()>& goOn);
    void loopProject(gswarm::ObjectId object);
    void offerRecovery(const std::vector<Autosave::Found>& copies, std::size_t which);
    void recover(const Autosave::Found& found);
    void keyHandles();
    void openPreferences();
    /// The panels as they are when the program is new.
    void resetPanels();
    void deleteChosen();
    void toggleTally();
    void chooseAllInstances();
    void varyChosen();

    Document document_;
    std::unique_ptr<Evaluation> evaluation_;
    std::unique_ptr<Play> play_;
    std::unique_ptr<Autosave> autosave_;
    std::vector<Command> commands_;
    QLabel* title_;
    Line* line_;
    QToolButton *undo_, *redo_;
    QPushButton *compose_, *export_, *find_;
    Rail* rail_;
    SceneList* list_;
    QWidget* left_;
    Picture* picture_;
    Greeting* greeting_;
    QStackedWidget *stage_, *right_;
    Settings* settings_;
    ExportPanel* exportPanel_;
    TimePanel* time_;
    QSplitter *across_ = nullptr, *middle_ = nullptr, *upDown_ = nullptr;
    Finder* finder_;
    Preferences* preferences_ = nullptr;  ///< made when it is first opened
    QElapsedTimer renewed_;
    bool closing_ = false;
    int timeHeight_ = 172;  ///< of the time panel without the ledger
};
