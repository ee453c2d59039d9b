#pragma once
#include <QWidget>

class QToolButton;
class QLabel;
class QVBoxLayout;

/// A part of the settings that folds. Closed, it says its state in one line.
class Section : public QWidget {
    Q_OBJECT

  public:
    Section(const QString& title, QWidget* parent);
    QVBoxLayout* body() const { return body_; }
    void setSummary(const QString& summary);
    /// What is said beside the title while it is open.
    void setNote(const QString& note, bool trouble = false);
    bool isOpen() const;
    void setOpen(bool open);
    QString title() const;
    void setTitle(const QString& title);

  signals:
    void toggled(bool open);
    /// The ? beside the title asks for its place in the guide.
    void helpAsked();

  protected:
    /// An empty body in the place of what it held.
    void clear();
    /// What rows are put into.
    QWidget* content() const { return content_; }

  private:
    void tell();
    void makeBody();

    QVBoxLayout* column_;
    QToolButton* header_;
    QLabel* summary_;
    QToolButton* help_;
    QString said_, note_;
    bool trouble_ = false;
    QWidget* content_ = nullptr;
    QVBoxLayout* body_ = nullptr;
};
