#include "app/export/export_panel.h"

#include <cmath>
#include <QComboBox>
#include <QDir>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

#include "app/document/document.h"
#include "app/export/export_kinds.h"
#include "app/export/export_queue.h"
#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "app/theme/file_dialog.h"
#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

namespace {

Parameter wholeNumber(const char* id, const char* label, Range hard, Range suggested) {
    Parameter p;
    p.id = id;
    p.label = p.summary = label;
    p.type = ParameterType::whole;
    p.suggested = suggested;
    p.hard = hard;
    return p;
}

QString objectNameOf(const std::string& id) {
    return "export" + QString::fromStdString(id).left(1).toUpper() + QString::fromStdString(id).mid(1);
}

}  // namespace

ExportPanel::ExportPanel(Document& document, ExportKinds& kinds, ExportQueue& queue, QWidget* parent)
    : QWidget(parent), document_(document), kinds_(kinds), queue_(queue) {
    setObjectName("exportPanel");
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(12, 10, 0, 10);
    whole->setSpacing(8);
    title_ = new QLabel(this);
    title_->setFont(theme::text(15, QFont::DemiBold));
    title_->setWordWrap(true);
    whole->addWidget(title_);
    // What has many settings scrolls; what will be written and the button stay.
    auto* scroll = new QScrollArea(this);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget(scroll);
    form_ = new QFormLayout(inside);
    form_->setContentsMargins(0, 0, 12, 0);
    form_->setSpacing(6);
    form_->setLabelAlignment(Qt::AlignLeft);
    said_ = new QLabel(this);
    said_->setWordWrap(true);
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    for (const ExporterKind* kind : exporters())
        for (const Parameter& p : kind->parameters) addSetting(p);
    frames_ = new QWidget(inside);
    auto* frames = new QHBoxLayout(frames_);
    frames->setContentsMargins(0, 0, 0, 0);
    first_ = number(wholeNumber("first", "First frame", {-1e5, 1e5}, {0, 250}), frames_);
    last_ = number(wholeNumber("last", "Last frame", {-1e5, 1e5}, {0, 250}), frames_);
    frames->addWidget(first_, 1);
    frames->addWidget(new QLabel("to", frames_));
    frames->addWidget(last_, 1);
    form_->addRow("Frames", frames_);
    every_ = number(wholeNumber("every", "Of the frames each so many-th", {1, 1e5}, {1, 10}), inside);
    every_->show(1, NumberField::Mark::none);
    form_->addRow("Every nth", every_);
    scroll->setWidget(inside);
    whole->addWidget(scroll, 1);
    auto* below = new QVBoxLayout;
    below->setContentsMargins(0, 0, 12, 0);
    below->setSpacing(8);
    path_ = new QLineEdit(this);
    path_->setObjectName("exportPath");
    path_->setAccessibleName("File");
    auto* browse = new QPushButton("Choose…", this);
    auto* file = new QHBoxLayout;
    file->addWidget(path_, 1);
    file->addWidget(browse);
    below->addLayout(file);
    writes_ = new QLabel(this);
    writes_->setObjectName("exportWrites");
    writes_->setWordWrap(true);
    below->addWidget(writes_);
    start_ = new QPushButton("Export", this);
    start_->setObjectName("exportStart");
    below->addWidget(start_);
    below->addWidget(said_);
    whole->addLayout(below);
    connect(&kinds_, &ExportKinds::chosen, this, &ExportPanel::showFitting);
    connect(&document_, &Document::fileChanged, this, &ExportPanel::showFitting);
    connect(&document_, &Document::sceneChanged, this, &ExportPanel::showFrames);
    connect(path_, &QLineEdit::textChanged, this, &ExportPanel::saySoFar);
    connect(browse, &QPushButton::clicked, this, &ExportPanel::browse);
    connect(start_, &QPushButton::clicked, this, &ExportPanel::start);
    connect(&queue_, &ExportQueue::ended, this, [this](bool fine, const QString& sentence) {
        tell(sentence, fine);
        emit ended(fine, sentence);
    });
    showFitting();
}

NumberField* ExportPanel::number(const Parameter& p, QWidget* parent) {
    auto* field = new NumberField(p, momentAt(document_.scene(), 0).rate, parent);
    field->setObjectName(objectNameOf(p.id));
    connect(field, &NumberField::edited, this, [this, field](double value) {
        field->show(value, NumberField::Mark::none);
        saySoFar();
    });
    connect(field, &NumberField::trouble, said_, &QLabel::setText);
    return field;
}

/// Exporters that call a setting the same share its row, and what was typed there.
void ExportPanel::addSetting(const Parameter& p) {
    if (settings_.contains(p.id)) return;
    QWidget* field = fieldFor(p);
    settings_[p.id] = field;
    addRow(p, field);
}

QWidget* ExportPanel::fieldFor(const Parameter& p) {
    if (p.type == ParameterType::toggle) {
        auto* toggle = new Switch(this);
        toggle->setObjectName(objectNameOf(p.id));
        toggle->setCheckable(true);
        toggle->setChecked(std::get<bool>(p.standard));
        toggle->setAccessibleName(QString::fromStdString(p.label));
        connect(toggle, &Switch::toggled, this, &ExportPanel::showConditions);
        return toggle;
    }
    if (p.type == ParameterType::choice) {
        auto* box = new QComboBox(this);
        box->setObjectName(objectNameOf(p.id));
        box->setAccessibleName(QString::fromStdString(p.label));
        box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        for (const Choice& choice : p.choices) box->addItem(QString::fromStdString(choice.label), QString::fromStdString(choice.id));
        box->setCurrentIndex(box->findData(QString::fromStdString(std::get<std::string>(p.standard))));
        connect(box, &QComboBox::currentIndexChanged, this, &ExportPanel::showConditions);
        return box;
    }
    if (p.type == ParameterType::text) {
        auto* line = new QLineEdit(QString::fromStdString(std::get<std::string>(p.standard)), this);
        line->setObjectName(objectNameOf(p.id));
        line->setAccessibleName(QString::fromStdString(p.label));
        connect(line, &QLineEdit::textChanged, this, &ExportPanel::saySoFar);
        return line;
    }
    NumberField* field = number(p, this);
    field->show(std::get<Numbers>(p.standard).front().value, NumberField::Mark::none);
    followProject(p, field);
    return field;
}

/// The size of pictures is the project's.
void ExportPanel::followProject(const Parameter& p, NumberField* field) {
    for (const auto& [setting, of] : {std::pair{"width", "pictureWidth"}, {"height", "pictureHeight"}}) {
        if (p.id != setting) continue;
        const auto address = [this, of = of] { return addressOf(document_.scene(), document_.scene().project().id, of); };
        connect(field, &NumberField::edited, this, [this, address](double value) { document_.setNumber(address(), value); });
        connect(field, &NumberField::finished, &document_, &Document::seal);
        const auto show = [this, field, address] {
            field->show(std::get<Numbers>(valueOf(document_.scene(), address())).front().value, NumberField::Mark::none);
        };
        connect(&document_, &Document::sceneChanged, field, show);
        show();
    }
}

void ExportPanel::addRow(const Parameter& p, QWidget* field) {
    form_->addRow(QString::fromStdString(p.label), field);
    form_->labelForField(field)->setToolTip(QString::fromStdString(p.summary));
}

/// What was typed, chosen or switched for a setting.
Value ExportPanel::typed(const Parameter& p) const {
    const QWidget* row = settings_.at(p.id);
    if (const auto* toggle = qobject_cast<const Switch*>(row)) return toggle->isChecked();
    if (const auto* box = qobject_cast<const QComboBox*>(row)) return box->currentData().toString().toStdString();
    if (const auto* line = qobject_cast<const QLineEdit*>(row)) return line->text().toStdString();
    return fixedNumbers({qobject_cast<const NumberField*>(row)->value()});
}

Part ExportPanel::settings() const {
    Part settings = standardPart(kind());
    for (std::size_t i = 0; i < settings.values.size(); ++i) settings.values[i] = typed(kind().parameters[i]);
    return settings;
}

FrameRange ExportPanel::range() const {
    return {static_cast<int>(first_->value()), static_cast<int>(last_->value()), std::max(1, static_cast<int>(every_->value()))};
}

const ExporterKind& ExportPanel::kind() const { return kinds_.kind(); }

QString ExportPanel::suggestedName() const {
    const auto& path = document_.path();
    const std::string stem = path.empty() ? "untitled" : path.stem().string();
    const QString folder = path.empty() ? QDir::homePath() : QString::fromStdString(path.parent_path().string());
    return folder + "/" + QString::fromStdString(stem + kind().ending);
}

void ExportPanel::showFitting() {
    title_->setText(QString::fromStdString(kind().label));
    showConditions();
    showFrames();
    path_->setText(suggestedName());
    tell(QString::fromStdString(kind().summary), true);
}

/// The settings that the kind has and that mean something now.
void ExportPanel::showConditions() {
    const Part now = settings();
    for (const auto& [id, field] : settings_) {
        const int at = kind().indexOf(id);
        form_->setRowVisible(field, at >= 0 && applies(kind().parameters[static_cast<std::size_t>(at)], now));
    }
    form_->setRowVisible(frames_, kind().moves);
    form_->setRowVisible(every_, kind().moves);
    saySoFar();
}

/// The whole project, as long as nothing else was typed.
void ExportPanel::showFrames() {
    const FrameRange now = framesOf(document_.scene());
    if (!project_ || first_->value() == project_->first) first_->show(now.first, NumberField::Mark::none);
    if (!project_ || last_->value() == project_->last) last_->show(now.last, NumberField::Mark::none);
    project_ = now;
    saySoFar();
}

/// What will be written: names, how many, how large.
void ExportPanel::saySoFar() {
    const std::filesystem::path path = path_->text().toStdString();
    const FrameRange frames = range();
    const int count = kind().numbered ? frames.count() : 1;
    const auto nameOf = [](const std::filesystem::path& file) { return QString::fromStdString(file.filename().string()); };
    QString says = "Writes ";
    if (count < 1) {
        says = "Writes nothing: the last frame is before the first.";
    } else if (kind().numbered) {
        says += QString("%1 to %2, %3.")
                    .arg(nameOf(numbered(path, frames.first)), nameOf(numbered(path, frames.first + (count - 1) * frames.every)),
                         theme::counted(count, "file"));
    } else {
        says += nameOf(path) + (kind().moves ? QString(" of %1.").arg(theme::counted(frames.count(), "frame")) : ".");
    }
    const std::size_t besides = filesWritten(settings(), {0, 0}, path).size() - 1;
    if (count > 0 && besides > 0) says += QString(" %1 more beside%2.").arg(besides).arg(kind().numbered ? " each" : " it");
    writes_->setText(says);
}

void ExportPanel::browse() {
    const QString chosen = file_dialog::save(this, "Export to", path_->text());
    if (!chosen.isEmpty()) path_->setText(chosen);
}

void ExportPanel::start() {
    const ObjectId swarm = document_.swarm();
    if (!swarm) {
        tell("There is no swarm to export yet.", false);
        return;
    }
    ExportJob job;
    job.settings = settings();
    job.scene = document_.scene();
    job.folder = document_.folder();
    job.swarm = swarm;
    job.frame = document_.frame();
    job.range = range();
    job.file = path_->text().toStdString();
    job.project = document_.path().empty() ? "untitled" : QString::fromStdString(document_.path().stem().string());
    if (picture_) job.picture = picture_();
    tell({}, true);
    queue_.add(std::move(job));
}

void ExportPanel::tell(const QString& sentence, bool fine) {
    said_->setStyleSheet(fine ? "color: #a3967f;" : "color: #f08a72;");
    said_->setText(sentence);
}
