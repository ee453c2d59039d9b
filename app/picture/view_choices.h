#pragma once
#include <array>
#include <QWidget>

#include "app/picture/handles.h"

class Document;
class QHBoxLayout;
class QToolButton;

/// The buttons at the bottom of the view: which handles are shown, the camera, and what is drawn besides.
class ViewChoices : public QWidget {
    Q_OBJECT

  public:
    ViewChoices(Document& document, QWidget* parent);

    handles::Mode handleMode() const { return mode_; }
    void setHandleMode(handles::Mode mode);
    QToolButton& weights() const { return *weights_; }
    QToolButton& numbers() const { return *numbers_; }
    bool zones() const;
    bool ground() const;
    bool frame() const;
    bool safeAreas() const;
    /// The view and the camera are one: the view looks through it, and moving the view moves it.
    bool holdsCamera() const;

  signals:
    /// Something else is to be drawn.
    void changed();
    void lookThroughAsked();
    void cameraFromViewAsked();

  private:
    void addHandles(QHBoxLayout& row);
    void addCamera(QHBoxLayout& row);
    QToolButton* addButton(QHBoxLayout& row, const char* icon, const QString& name, const QString& tip);
    QToolButton* addSwitch(QHBoxLayout& row, const char* icon, const QString& tip, bool on);
    void addGhosts(QHBoxLayout& row);
    void addRehearsal(QHBoxLayout& row);

    Document& document_;
    handles::Mode mode_ = handles::Mode::move;
    std::array<QToolButton*, 3> handles_;  ///< by Mode
    QToolButton *weights_, *numbers_, *zones_, *ground_, *frame_, *safe_, *hold_;
};
