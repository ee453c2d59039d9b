#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "app/settings/section.h"
#include "app/settings/settings_desk.h"

class ParameterRow;
class QHBoxLayout;

/// What a question is about: an object, and one of its parts where there is a question for each.
struct Subject {
    gswarm::ObjectId object;
    std::string part;
    bool operator==(const Subject&) const = default;
};

/// One question of the settings and the rows that answer it. It notes by itself what its rows depend on (`uses`) and makes
/// them anew when that differs; otherwise they just show the values of now. A new question is a class with `fill`, a line in
/// questions.h, and a place in settings.cpp.
class Question : public Section {
    Q_OBJECT

  public:
    Question(SettingsDesk& desk, Subject subject, const QString& title);
    /// Other rows if others are wanted, and the values of now. True if the rows were made anew.
    bool refresh();
    /// The values alone: another frame wants no other rows.
    void refreshValues();
    /// What the last evaluation found.
    void tellFound();
    const std::vector<ParameterRow*>& rows() const { return rows_; }

  protected:
    /// Puts the rows into the empty body.
    virtual void fill() = 0;
    /// What it says of itself while it is closed.
    virtual QString summary() const { return {}; }
    /// Closed until a hand opens it.
    void startClosed();

    Document& document() const { return desk_.document; }
    const gswarm::Scene& scene() const { return desk_.document.scene(); }
    gswarm::ObjectId subject() const { return subject_.object; }
    const std::string& subjectPart() const { return subject_.part; }
    const gswarm::Object& object() const { return scene().at(subject_.object); }

    /// Answers a question of the scene and notes the answer: once another is given, the rows are made anew. What is asked must
    /// bear that anything but the subject was deleted.
    template <class Ask>
    auto uses(Ask ask) {
        auto now = ask();
        fitting_.push_back([ask, now] { return ask() == now; });
        return now;
    }
    /// Calls it now and whenever values or what was found may have changed.
    void tells(std::function<void()> tell);

    /// A row of each parameter of a part that means something now, but for those left out; or `just` some.
    void addRows(gswarm::ObjectId object, const std::string& part, const std::vector<std::string>& leftOut = {},
                 const std::vector<std::string>& just = {});
    /// Rows of several parameters in one line: with a common label before short fields, or each with a narrow label of its own.
    void addSideBySide(gswarm::ObjectId object, const std::vector<std::string>& parameters, const QString& common);
    ParameterRow* makeRow(const gswarm::Address& address, QWidget* parent);
    /// What choosing another kind does, where it is more than setKind; what that makes is chosen then.
    using ChangeKind = std::function<gswarm::Edit(const gswarm::Scene&, const gswarm::Kind&)>;
    void addKindChoice(gswarm::ObjectId object, const std::string& part, const QString& label, const ChangeKind& change = {});
    /// An empty line in the body, with a label if it is given one.
    QHBoxLayout* addLine(const QString& label = {});
    class QToolButton* smallButton(const char* icon, const QString& name, const QString& tip, QWidget* parent) const;

    SettingsDesk& desk_;

  private:
    struct Place {
        gswarm::Address row;
        std::size_t field = 0;
    };
    std::optional<Place> focusedPlace() const;
    void focus(const Place& place);
    bool fits() const;

    Subject subject_;
    bool filled_ = false;
    std::vector<std::function<bool()>> fitting_;
    std::vector<ParameterRow*> rows_;
    std::vector<std::function<void()>> told_;
};
