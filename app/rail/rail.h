#pragma once
#include <QWidget>
#include <vector>

#include "app/document/document.h"

class RailCard;
class Evaluation;
class Gallery;
class QHBoxLayout;
class QScrollArea;
class QToolButton;

/// The row of cards of one swarm: Stock, Formation, the gestures, Result. Its order is the order of evaluation.
class Rail : public QWidget {
    Q_OBJECT

  public:
    Rail(Document& document, Evaluation& evaluation, QWidget* parent);
    /// Opens the gallery of gestures under the (+).
    void openGallery();
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
    void showMenu(gswarm::ObjectId entry, const QPoint& at);
    void drop(gswarm::ObjectId entry, int globalX);
    int placeAt(int globalX) const;
    void arrange();
    void step(int index, int direction);

    Document& document_;
    Evaluation& evaluation_;
    gswarm::ObjectId swarm_;
    std::vector<gswarm::ObjectId> entries_;
    RailCard *stock_, *formation_, *result_;
    std::vector<RailCard*> cards_;
    QScrollArea* scroll_;
    QWidget* row_;
    QHBoxLayout* rowLayout_;
    QToolButton* add_;
    Gallery* gallery_ = nullptr;
};
