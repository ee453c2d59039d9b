#pragma once
#include <functional>
#include <optional>
#include <QWidget>
#include <vector>

#include "app/document/document.h"
#include "app/document/tally_text.h"
#include "app/rail/rail_card.h"
#include "core/edit/gesture_starts.h"

class Evaluation;
namespace gswarm {
struct Result;
struct SymmetryKind;
}  // namespace gswarm
class Gallery;
class QHBoxLayout;
class QMenu;
class QScrollArea;
class QToolButton;

/// The row of cards of one swarm: Stock, Formation, the gestures, the symmetries, Result. Its order is the order of evaluation.
class Rail : public QWidget {
    Q_OBJECT

  public:
    Rail(Document& document, Evaluation& evaluation, QWidget* parent);
    /// Opens the gallery of gestures under the (+).
    void openGallery();
    /// The gesture as the last card, and chosen.
    void addStart(const gswarm::GestureStart& start);
    /// A symmetry as the last one, and chosen.
    void addSymmetryOf(const gswarm::SymmetryKind& kind);
    /// Tells why a card does nothing, and offers the mend.
    void askWhy(gswarm::ObjectId railEntry);

  signals:
    void renameAsked();

  protected:
    void resizeEvent(QResizeEvent*) override;

  private:
    void rebuild();
    void refresh();
    void connectGesture(RailCard* card, gswarm::ObjectId entry);
    void connectSymmetry(RailCard* card, gswarm::ObjectId symmetry);
    void showSymmetryMenu(gswarm::ObjectId symmetry, const QPoint& at);
    CardState symmetryState(gswarm::ObjectId symmetry) const;
    std::vector<RailCard*> allCards() const;
    void showStock();
    /// Where one is: in a swarm that others repeat.
    void showWhere();
    void showFormation();
    void showResult();
    CardState gestureState(std::size_t card) const;
    void addSilence(std::size_t card, CardState& state) const;
    void addCensus(const gswarm::Result& result, std::size_t card, CardState& state) const;
    std::optional<TallyText> tallyAfter(int card) const;
    void addTally(int card, CardState& state) const;
    static QString iconOf(const gswarm::Object& gesture);
    void showMenu(gswarm::ObjectId entry, const QPoint& at);
    void addSwarms(QMenu& menu, const QString& title,
                   const std::function<gswarm::Edit(const gswarm::Scene&, gswarm::ObjectId swarm)>& make);
    void drop(gswarm::ObjectId entry, int globalX);
    int placeAt(int globalX) const;
    void arrange();
    void step(int index, int direction);

    Document& document_;
    Evaluation& evaluation_;
    gswarm::ObjectId swarm_;
    std::vector<gswarm::ObjectId> entries_, symmetries_;
    RailCard *stock_, *formation_, *result_;
    std::vector<RailCard*> cards_, symmetryCards_;
    QScrollArea* scroll_;
    QWidget* row_;
    QHBoxLayout* rowLayout_;
    QToolButton *out_, *add_;  ///< to the swarm that repeats this one; a new gesture
    Gallery* gallery_ = nullptr;
};
