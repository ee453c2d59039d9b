#pragma once
#include <QFrame>
#include <vector>

#include "app/document/document.h"

class Evaluation;
class FormationSketch;
class OwnStartsRow;

/// All formations as small pictures of themselves, with how many instances each would make of this swarm, and those that were
/// kept, which become another version. Nothing is made before one is taken.
class FormationPicker : public QFrame {
    Q_OBJECT

  public:
    FormationPicker(Document& document, Evaluation& evaluation, QWidget* parent);
    /// Shows itself beside a widget for the formation that may be changed.
    void open(gswarm::ObjectId formation, QWidget* beside);

  signals:
    void taken(gswarm::ObjectId formation, const gswarm::Kind* kind);

  private:
    Document& document_;
    Evaluation& evaluation_;
    gswarm::ObjectId formation_;
    std::vector<FormationSketch*> sketches_;
    OwnStartsRow* own_;
    int asked_ = 0;  ///< answers to earlier questions are passed over
};
