#pragma once
#include <QWidget>

#include "core/scene/kind.h"

class QLineEdit;

/// One number: a mark that says what moves it, and the value, which can be typed (arithmetic and units), dragged, or
/// scrolled while focused. The fill shows where it lies in the suggested range; the hard range is the limit.
class NumberField : public QWidget {
    Q_OBJECT

  public:
    enum class Mark { none, fixed, keyed, keyHere, formula, link, trouble };  ///< none: nothing but the hand can move it

    NumberField(const gswarm::Parameter& parameter, double framesPerSecond, QWidget* parent);

    void show(double value, Mark mark);
    /// A word instead of the value: every instance has its own, or things that are selected together differ. Empty for none.
    void showInstead(const QString& word);
    /// Other numbers follow or name this one: a thread leaves its mark.
    void showFollowed(bool followed);
    double value() const { return value_; }
    /// While another number looks for one to follow, a click answers.
    void offerPick(bool on);
    /// Which of several numbers of one thing it is: a quiet letter before the value, such as X.
    void setLetter(const QString& letter);
    /// Opens the text for typing.
    void type();
    /// The value with its unit, to the clipboard; and what is there, one number or several.
    void copy() const;
    void paste();

  signals:
    void edited(double value);
    void finished();     ///< a drag or typing has ended
    void markClicked();  ///< asks what moves it
    void keyAsked();     ///< wants a key here, or to lose it
    /// What was typed is no number: perhaps it names others.
    void formulaTyped(const QString& text);
    /// Several numbers were pasted, this one's first.
    void severalPasted(const QStringList& texts);
    void picked();  ///< was clicked while another number looks for one to follow
    void trouble(const QString& sentence);

  protected:
    bool event(QEvent*) override;
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    void focusOutEvent(QFocusEvent*) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    QSize sizeHint() const override { return {64, 26}; }

  private:
    void takeTyped();
    void take(const QString& typed);
    QString unit() const;
    void tellValue();
    void step(double steps);
    double limited(double value) const;
    double stepSize() const;
    QString text() const;
    int left() const;

    gswarm::Parameter parameter_;
    double rate_;
    double value_ = 0;
    Mark mark_ = Mark::fixed;
    QLineEdit* editor_;
    QString instead_, letter_;
    bool offered_ = false, followed_ = false, pressed_ = false, dragged_ = false, taking_ = false;
    double pressX_ = 0, pressValue_ = 0;
};
