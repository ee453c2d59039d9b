#pragma once
#include <filesystem>
#include <functional>
#include <optional>
#include <QObject>
#include <QString>
#include <set>

#include "app/document/session.h"
#include "core/edit/history.h"
#include "core/provide/listener.h"
#include "core/provide/store.h"

/// The open project and how it is looked at. Panels read it and ask it for edits; none keeps a copy of the scene.
class Document : public QObject {
    Q_OBJECT

  public:
    explicit Document(QObject* parent = nullptr);

    const gswarm::Scene& scene() const { return history_.scene(); }
    const gswarm::History& history() const { return history_; }

    // ---- edits
    /// Applies an edit made from the present scene. What the edit refuses is told through `trouble`.
    using MakeEdit = std::function<gswarm::Edit(const gswarm::Scene&)>;
    /// Returns what the edit made, or the empty id.
    gswarm::ObjectId edit(const MakeEdit& make);
    void setNumber(const gswarm::Address& address, double value);
    void setValue(const gswarm::Address& address, const gswarm::Value& value);
    /// One edit of a setting, made of everything selected that has it, as one step.
    using MakeOne = std::function<gswarm::Edit(const gswarm::Scene&, const gswarm::Address&)>;
    gswarm::ObjectId editTogether(const gswarm::Address& address, const MakeOne& make);
    /// The same setting of everything that is selected together, this one first.
    std::vector<gswarm::Address> together(const gswarm::Address& address) const;
    /// Whether what is selected together differs in a setting, at this frame.
    bool differs(const gswarm::Address& address) const;
    /// The next edit is a step of its own: the end of a drag.
    void seal() { history_.seal(); }
    /// All edits that the work makes, as one step of that name.
    void asOneStep(const std::string& label, const std::function<void()>& work);
    void undo();
    void redo();

    /// What has to be made to know where things stand: curves that are followed.
    gswarm::Store& store() const { return store_; }

    // ---- session: never saved in the project, never undone
    Session& session() { return session_; }
    const Session& session() const { return session_; }
    gswarm::ObjectId chosen() const { return chosen_; }
    void choose(gswarm::ObjectId id);
    /// What is selected together; what is chosen is the last of them. Settings that all have are changed together.
    const std::vector<gswarm::ObjectId>& selection() const { return selection_; }
    void select(std::vector<gswarm::ObjectId> ids);
    /// The swarm whose rail is shown: the last one that was chosen or uses what was chosen; at first the first.
    gswarm::ObjectId swarm() const;
    /// Whose handles are shown: the chosen zone, swarm, path or lamp (a camera has none, but is drawn as chosen), or the zone unfolded
    /// under the chosen gesture; where none is, the gesture itself, which has some if it warps space.
    gswarm::ObjectId handled() const { return handled_; }
    void setHandled(gswarm::ObjectId object);
    double frame() const { return frame_; }
    void setFrame(double frame);
    gswarm::ObjectId solo() const { return solo_; }
    void setSolo(gswarm::ObjectId railEntry);
    /// Nine values of a setting side by side.
    void vary(const gswarm::Address& number);

    // ---- picking: the next click on an object of an allowed type goes to the slot instead of being chosen
    using Picked = std::function<void(gswarm::ObjectId)>;
    void startPick(std::vector<gswarm::ObjectType> allowed, const Picked& picked);
    void cancelPick();
    bool picking() const { return static_cast<bool>(picked_); }
    bool pickable(gswarm::ObjectId id) const;
    /// A click on an object anywhere: chooses it, or answers the pick.
    void click(gswarm::ObjectId id);

    // ---- linking: the next number that is clicked is followed by this one
    void startLink(const gswarm::Address& number);
    void cancelLink();
    bool linking() const { return linked_.has_value(); }
    /// A click on a number while linking; the thing whose number began it is chosen again.
    void linkTo(const gswarm::Address& number);

    /// Whether other numbers follow this one through links or name it in formulas.
    bool followed(const gswarm::Address& number) const;

    /// While recording, a number that is changed gets a key at the playhead.
    bool recording() const { return recording_; }
    void setRecording(bool on);

    // ---- file
    const std::filesystem::path& path() const { return path_; }
    /// Where its files lie: beside it; of a project that was never saved, a folder that saving empties into its own.
    std::filesystem::path folder() const { return path_.empty() ? scratch_ : path_.parent_path(); }
    void setScratchFolder(const std::filesystem::path& folder) {
        scratch_ = folder;
        listener_->setFolder(this->folder());
    }
    /// The path of a file in the project's folder, copied there if it lies elsewhere, which is told. Empty, with `trouble`, if
    /// that can't be done.
    std::string broughtIn(const std::filesystem::path& file, bool numbered = false);
    bool saved() const { return history_.scene() == savedScene_; }
    void newProject();
    /// Leaves everything untouched and tells `trouble` if the file can't be opened.
    bool open(const std::filesystem::path& path);
    /// Into another folder it takes its files along.
    bool save(const std::filesystem::path& path);
    /// A copy with all files elsewhere; the open project stays what it is.
    bool saveCopy(const std::filesystem::path& path);
    /// Tells everything again, so that panels show what is there whatever they missed.
    void renew();
    /// Sounds were looked through: numbers that follow them may be others than the window knew.
    void tellHeard() { emit heard(); }
    /// Starts from a scene that stands in no file yet, such as a recovered one.
    void adopt(gswarm::Scene scene, const std::filesystem::path& path);

  signals:
    void sceneChanged();
    void chosenChanged();
    void frameChanged();
    void sessionChanged();  ///< solo, handles, picking
    void fileChanged();
    void heard();
    /// Another project has come, of which nothing was seen yet.
    void projectChanged();
    /// One sentence about something that went wrong; empty when it is over.
    void trouble(const QString& sentence);
    /// One sentence about something that was done besides.
    void told(const QString& sentence);

  private:
    void replace(gswarm::Scene scene, const std::filesystem::path& path);
    std::vector<std::string> copyWithFiles(const std::filesystem::path& path);
    void tellMissing(const std::vector<std::string>& missing);
    /// After another scene has come: lets go of what it does not have, and only then tells it, the scene first. Whoever
    /// hears anything of it finds document and session fitting the scene.
    void tellScene();
    bool uses(gswarm::ObjectId object, gswarm::ObjectId chosen) const;

    /// For the numbers that follow sounds; the window's own thread never waits for it.
    std::shared_ptr<gswarm::Listener> listener_ = std::make_shared<gswarm::Listener>(std::filesystem::path(), std::this_thread::get_id());
    gswarm::History history_;
    mutable gswarm::Store store_{std::size_t{64} << 20};
    Session session_;
    gswarm::Scene savedScene_;
    std::filesystem::path path_, scratch_;
    gswarm::ObjectId chosen_, handled_, solo_, swarm_;
    std::vector<gswarm::ObjectId> selection_;
    double frame_ = 0;
    std::vector<gswarm::ObjectType> pickTypes_;
    Picked picked_;
    std::optional<gswarm::Address> linked_;
    mutable std::optional<std::set<std::string>> read_;  ///< numbers that others follow; made again when the scene changes
    bool recording_ = false;
};
