#include "app/help/help_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QTextBlock>
#include <QTextBrowser>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"
#include "core/edit/gesture_starts.h"
#include "core/exchange/exporter_kind.h"
#include "core/kinds/registry.h"

using namespace gswarm;

namespace {

/// The pictures of the pages show the window, which is right beside.
QString withoutPictures(const QString& text) {
    QStringList lines;
    for (const QString& line : text.split('\n'))
        if (!line.startsWith("![")) lines << line;
    return lines.join('\n');
}

}  // namespace

HelpPanel::HelpPanel(QWidget* parent) : QWidget(parent) {
    setObjectName("helpPanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 6, 6, 6);
    column->setSpacing(6);
    auto* head = new QHBoxLayout;
    pages_ = new QComboBox(this);
    pages_->setObjectName("helpPages");
    pages_->setAccessibleName("Page of the guide");
    pages_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    auto* close = new QToolButton(this);
    close->setObjectName("closeHelp");
    close->setIcon(theme::icon("close"));
    close->setToolTip("Close the guide (F1)");
    close->setAccessibleName("Close the guide");
    head->addWidget(pages_, 1);
    head->addWidget(close);
    column->addLayout(head);
    text_ = new QTextBrowser(this);
    text_->setObjectName("helpText");
    text_->setAccessibleName("Guide");
    text_->setOpenExternalLinks(false);
    text_->setOpenLinks(false);
    text_->setFrameShape(QFrame::NoFrame);
    text_->setFont(theme::text());
    text_->setStyleSheet("QTextBrowser { background: transparent; }");
    column->addWidget(text_, 1);
    for (const QString& page : guide::pages()) pages_->addItem(guide::titleOf(page), page);
    connect(pages_, &QComboBox::activated, this, [this] { load(pages_->currentData().toString()); });
    connect(close, &QToolButton::clicked, this, &HelpPanel::closed);
    // Links lead to other pages; the guide has no others that open anything.
    connect(text_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
        const QString file = link.fileName();
        if (file.endsWith(".md")) open({file.chopped(3), link.fragment().replace('-', ' ')});
    });
}

void HelpPanel::setMade(const QString& page, const QString& title, const QString& text) {
    if (!made_.contains(page)) pages_->addItem(title, page);
    made_[page] = text;
}

QString HelpPanel::page() const { return pages_->currentData().toString(); }

void HelpPanel::open(const guide::Place& place) {
    load(place.page);
    goTo(place.heading);
}

void HelpPanel::load(const QString& page) {
    const int at = pages_->findData(page);
    if (at < 0) return text_->setPlainText("This page of the guide is not there; the guide belongs beside the program.");
    pages_->setCurrentIndex(at);
    text_->document()->setDefaultStyleSheet("a { color: #ece3d2; } code { color: #ece3d2; }");
    text_->document()->setBaseUrl(QUrl::fromLocalFile(guide::folder() + "/"));
    text_->setMarkdown(made_.contains(page) ? made_.at(page) : withoutPictures(guide::textOf(page)));
    heading_.clear();
    text_->moveCursor(QTextCursor::Start);
}

void HelpPanel::goTo(const QString& heading) {
    if (heading.isEmpty()) return;
    for (QTextBlock block = text_->document()->begin(); block.isValid(); block = block.next()) {
        if (block.blockFormat().headingLevel() == 0 || block.text().compare(heading, Qt::CaseInsensitive) != 0) continue;
        heading_ = block.text();
        // To the end first: then the heading comes to the top rather than just into sight.
        text_->moveCursor(QTextCursor::End);
        text_->setTextCursor(QTextCursor(block));
        return;
    }
}

QString kindsAsText() {
    QString out = "# All kinds\n\n";
    const auto said = [](const std::string& text) { return QString::fromStdString(text); };
    const auto add = [&](const QString& title, const auto& kinds) {
        out += "## " + title + "\n\n";
        for (const auto* kind : kinds) {
            out += "**" + said(kind->label) + "** — " + said(kind->summary) + "\n\n";
            for (const Parameter& p : kind->parameters)
                out += "- " + said(p.label) + (p.unit.empty() ? "" : " (" + said(p.unit) + ")") + ": " + said(p.summary) + "\n";
            out += "\n";
        }
    };
    out += "## Gestures\n\n";
    for (const GestureStart& start : gestureStarts()) out += "**" + said(start.label) + "** — " + said(start.summary) + "\n\n";
    add("What gestures are made of", kindsOf(Family::gesture));
    add("Patterns", kindsOf(Family::pattern));
    add("Zones", kindsOf(Family::zone));
    add("Formations", kindsOf(Family::formation));
    add("Shapes", kindsOf(Family::shape));
    add("Symmetries", kindsOf(Family::symmetry));
    add("Pictures", kindsOf(Family::media));
    add("Sounds", kindsOf(Family::sound));
    add("Forces", kindsOf(Family::force));
    add("Exports", exporters());
    return out;
}
