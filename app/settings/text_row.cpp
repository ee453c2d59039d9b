// Rows of a text: a line, a file with what it shows, an installed font, several lines.
#include <QDir>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>

#include "app/fields/font_field.h"
#include "app/fields/plain_text.h"
#include "app/settings/parameter_row.h"
#include "app/settings/picture_preview.h"
#include "app/theme/file_dialog.h"

using namespace gswarm;

void ParameterRow::addText(bool file) {
    auto* line = new QLineEdit(fields_);
    line->setAccessibleName(QString::fromStdString(parameter().label));
    line->setToolTip(QString::fromStdString(parameter().summary));
    fields_->layout()->addWidget(line);
    const auto now = [this] { return QString::fromStdString(std::get<std::string>(valueOf(document_.scene(), address_))); };
    refreshers_.push_back([line, now] {
        if (!line->hasFocus()) line->setText(now());
    });
    connect(line, &QLineEdit::editingFinished, this, [this, line, now] {
        if (line->text() == now()) return;
        if (parameter().id == "rate") return askRate(line->text(), line->mapToGlobal(QPoint(0, line->height())));
        document_.setValue(address_, line->text().toStdString());
        document_.seal();
        line->setText(now());
    });
    if (!file) return;
    auto* browse = new QPushButton("Choose…", fields_);
    fields_->layout()->addWidget(browse);
    auto* preview = new PicturePreview(this);
    auto* below = new QHBoxLayout;
    below->setContentsMargins(labelWidth + 4, 2, 0, 2);
    below->addWidget(preview);
    static_cast<QVBoxLayout*>(layout())->addLayout(below);
    refreshers_.push_back(
        [this, preview] { preview->show(std::get<std::string>(valueOf(document_.scene(), address_)), document_.folder()); });
    connect(browse, &QPushButton::clicked, this, [this] {
        const QString folder = document_.path().empty() ? QDir::homePath() : QString::fromStdString(document_.folder().string());
        QString endings;
        for (const std::string& ending : parameter().endings) endings += (endings.isEmpty() ? "*" : " *") + QString::fromStdString(ending);
        // As with menus: this row may be gone when the answer comes.
        const QPointer<ParameterRow> still(this);
        const QString chosen = file_dialog::open(window(), QString::fromStdString(parameter().label), folder,
                                                 QString::fromStdString(parameter().label) + " (" + endings + ")");
        if (still && !chosen.isEmpty()) takeFile(chosen);
    });
}

void ParameterRow::addFamily() {
    auto* field = new FontField(fields_);
    field->setAccessibleName(QString::fromStdString(parameter().label));
    field->setToolTip(QString::fromStdString(parameter().summary));
    fields_->layout()->addWidget(field);
    const auto now = [this] { return QString::fromStdString(std::get<std::string>(valueOf(document_.scene(), address_))); };
    refreshers_.push_back([field, now] { field->show(now()); });
    connect(field, &FontField::taken, this, [this, now](const QString& family) {
        if (family == now()) return;
        document_.setValue(address_, family.toStdString());
        document_.seal();
    });
}

/// A file from elsewhere is copied into the project's folder.
void ParameterRow::takeFile(const QString& path) {
    if (const std::string inside = document_.broughtIn(path.toStdString(), parameter().numbered); !inside.empty())
        document_.setValue(address_, inside);
}

void ParameterRow::addLines() {
    auto* text = new PlainText(fields_);
    text->setObjectName("lines");
    text->setAccessibleName(QString::fromStdString(parameter().label));
    text->setToolTip(QString::fromStdString(parameter().summary));
    text->setFixedHeight(58);
    text->setTabChangesFocus(true);
    fields_->layout()->addWidget(text);
    refreshers_.push_back([this, text] {
        const QString now = QString::fromStdString(std::get<std::string>(valueOf(document_.scene(), address_)));
        if (text->toPlainText() == now) return;
        const QSignalBlocker quiet(text);
        text->setPlainText(now);
    });
    connect(text, &QPlainTextEdit::textChanged, this, [this, text] { document_.setValue(address_, text->toPlainText().toStdString()); });
}
