#pragma once
#include <optional>
#include <QElapsedTimer>
#include <QMainWindow>

#include "app/document/autosave.h"
#include "app/document/document.h"
#include "app/document/evaluation.h"
#include "app/finder/finder.h"
#include "app/time/play.h"
#include "app/window/commands.h"

class ExportKinds;
class ExportPanel;
class ExportQueue;
class ExportQueuePanel;
class Greeting;
class HelpPanel;
class Line;
class LookLine;
class MaterialTray;
class Picture;
class Preferences;
class QLineEdit;
class QPushButton;
class QSplitter;
class QStackedWidget;
class QToolButton;
class Rail;
class ScenePanel;
class Settings;
class SoundPlayer;
class ShortcutList;
class Shortcuts;
class TimePanel;
class Walk;

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
    SoundPlayer& sound() { return *sound_; }
    Rail& rail() { return *rail_; }
    Settings& settings() { return *settings_; }
    TimePanel& time() { return *time_; }
    ScenePanel& scenePanel() { return *left_; }
    HelpPanel& help() { return *help_; }
    Walk* walk() { return walk_; }

    /// Offers the copies that runs left which did not end well.
    void offerRecovery();
    void showWorkView(const QString& view);  ///< "Compose", "Look" or "Export"
    bool openFile(const QString& path);
    void openFinder();
    /// The guide beside the view, at the page of what is selected; away again if it is there.
    void showHelp();
    void startWalk();
    /// Projects are opened, other files imported.
    void takeFiles(const QStringList& paths);
    /// One sentence in the line over the picture; empty takes it away.
    void tell(const QString& sentence);
    void renewOnce();

  protected:
    void closeEvent(QCloseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

  private:
    void buildTop(QWidget* bar);
    void buildCommands();
    const Command& command(const QString& id) const;
    QList<QWidget*> areaList() const;
    void showProjectMenu();
    void showThings(const QPoint& global);
    void showShortcuts();
    void helpFor(const QString& section);
    std::vector<Finder::Item> findable();
    gswarm::ObjectId gestureAtHand() const;
    void takePattern(const gswarm::Kind& pattern);
    void compose();
    void refreshTitle();
    void refreshGreeting();
    void sizeTime();
    void resizeEvent(QResizeEvent*) override { sizeTime(); }
    void newSwarm();
    void addCameraHere();
    void askOpen();
    void askImport();
    bool save();
    bool saveAs();
    void saveCopy();
    void keepSelected();
    /// Asks in the line before unsaved work would be left; goes on when answered.
    void leaveProject(const std::function<void()>& goOn);
    /// The same where exports have not ended.
    void leaveExports(const std::function<void()>& goOn);
    void loopProject(gswarm::ObjectId object);
    void offerRecovery(const std::vector<Autosave::Found>& copies, std::size_t which);
    void recover(const Autosave::Found& found);
    void keyHandles();
    void openPreferences();
    /// The panels as they are when the program is new.
    void resetPanels();
    void duplicateSelected();
    void toggleTally();
    void chooseAllInstances();
    void varyChosen();

    Document document_;
    std::unique_ptr<Evaluation> evaluation_;
    std::unique_ptr<SoundPlayer> sound_;
    std::unique_ptr<Play> play_;
    std::unique_ptr<Autosave> autosave_;
    std::vector<Command> commands_;
    Shortcuts* shortcuts_ = nullptr;
    QPushButton* title_;
    Line* line_;
    QToolButton *undo_, *redo_;
    QPushButton *compose_, *look_, *export_, *find_;
    Rail* rail_;
    MaterialTray* tray_;
    LookLine* lookLine_;
    ScenePanel* left_;
    Picture* picture_;
    Greeting* greeting_;
    QStackedWidget *stage_, *right_;
    Settings* settings_;
    ExportPanel* exportPanel_;
    ExportKinds* exportKinds_;
    ExportQueue* exportQueue_;
    ExportQueuePanel* exportQueuePanel_;
    QStackedWidget* leftSide_;  ///< the scene list, or what can be exported
    TimePanel* time_;
    QSplitter *across_ = nullptr, *middle_ = nullptr, *upDown_ = nullptr;
    Finder* finder_;
    HelpPanel* help_;
    // Made when they are first opened.
    Preferences* preferences_ = nullptr;
    ShortcutList* shortcutList_ = nullptr;
    Walk* walk_ = nullptr;
    QElapsedTimer renewed_;
    bool closing_ = false;
    int timeHeight_ = 172;  ///< of the time panel without the ledger
};
