#pragma once
#include <map>
#include <QWidget>

#include "app/help/guide.h"

class QComboBox;
class QTextBrowser;

/// The guide beside the view: its pages, all shortcuts, and all kinds as their tables tell them.
class HelpPanel : public QWidget {
    Q_OBJECT

  public:
    explicit HelpPanel(QWidget* parent);
    void open(const guide::Place& place);
    /// A page that the window makes, such as that of the shortcuts: Markdown text under a name among the pages.
    void setMade(const QString& page, const QString& title, const QString& text);
    QString page() const;
    /// The heading that stands at the top, for tests.
    QString heading() const { return heading_; }
    QTextBrowser& text() { return *text_; }

  signals:
    void closed();

  private:
    void load(const QString& page);
    void goTo(const QString& heading);

    QComboBox* pages_;
    QTextBrowser* text_;
    QString heading_;
    std::map<QString, QString> made_;
};

/// All kinds of everything, from their tables, as Markdown.
QString kindsAsText();
