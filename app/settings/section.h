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
    bool isOpen() const;
    void setOpen(bool open);
    QString title() const;

  signals:
    void toggled(bool open);

  private:
    QToolButton* header_;
    QLabel* summary_;
    QString said_;
    QWidget* content_;
    QVBoxLayout* body_;
};
