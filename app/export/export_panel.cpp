#include "app/export/export_panel.h"

#include <QComboBox>
#include <QDateTime>
#include <QDir>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "app/theme/file_dialog.h"
#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/resolve/resolve.h"
#include "live/live_still.h"

using namespace gswarm;

namespace {

Parameter frameNumber(const char* id, const char* label) {
    Parameter p;
    p.id = id;
    p.label = p.summary = label;
    p.type = ParameterType::whole;
    p.suggested = {0, 250};
    p.hard = {-1e5, 1e5};
    return p;
}

}  // namespace

ExportPanel::ExportPanel(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("exportPanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 10, 12, 10);
    column->setSpacing(8);
    auto* title = new QLabel("Export", this);
    title->setFont(theme::text(15, QFont::DemiBold));
    column->addWidget(title);
    said_ = new QLabel(this);
    said_->setWordWrap(true);
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    form_ = new QFormLayout;
    form_->setSpacing(6);
    form_->setLabelAlignment(Qt::AlignLeft);
    format_ = new QComboBox(this);
    format_->setObjectName("exportFormat");
    format_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    for (const ExporterKind* kind : exporters()) format_->addItem(QString::fromStdString(kind->label), QString::fromStdString(kind->id));
    form_->addRow(format_);
    for (const ExporterKind* kind : exporters())
        for (const Parameter& p : kind->parameters) addSetting(p);
    frames_ = new QWidget(this);
    auto* frames = new QHBoxLayout(frames_);
    frames->setContentsMargins(0, 0, 0, 0);
    first_ = number(frameNumber("first", "First frame"), frames_);
    last_ = number(frameNumber("last", "Last frame"), frames_);
    frames->addWidget(first_, 1);
    frames->addWidget(new QLabel("to", frames_));
    frames->addWidget(last_, 1);
    form_->addRow("Frames", frames_);
    path_ = new QLineEdit(this);
    path_->setObjectName("exportPath");
    path_->setAccessibleName("File");
    auto* browse = new QPushButton("Choose…", this);
    form_->addRow("File", path_);
    form_->addRow("", browse);
    column->addLayout(form_);
    start_ = new QPushButton("Export", this);
    start_->setObjectName("exportStart");
    cancel_ = new QPushButton("Cancel", this);
    cancel_->setObjectName("exportCancel");
    cancel_->hide();
    bar_ = new QProgressBar(this);
    bar_->setRange(0, 1000);
    bar_->hide();
    column->addWidget(start_);
    column->addWidget(bar_);
    column->addWidget(cancel_);
    column->addWidget(said_);
    column->addStretch(1);
    timer_.setInterval(100);
    connect(&timer_, &QTimer::timeout, this, &ExportPanel::tick);
    connect(format_, &QComboBox::currentIndexChanged, this, &ExportPanel::showFitting);
    connect(&document_, &Document::fileChanged, this, &ExportPanel::showFitting);
    connect(&document_, &Document::sceneChanged, this, &ExportPanel::showFrames);
    connect(browse, &QPushButton::clicked, this, &ExportPanel::browse);
    connect(start_, &QPushButton::clicked, this, &ExportPanel::start);
    connect(cancel_, &QPushButton::clicked, this, [this] {
        if (progress_) progress_->cancel();
    });
    showFitting();
}

ExportPanel::~ExportPanel() {
    if (progress_) progress_->cancel();
    if (thread_.joinable()) thread_.join();
}

NumberField* ExportPanel::number(const Parameter& p, QWidget* parent) {
    auto* field = new NumberField(p, momentAt(document_.scene(), 0).rate, parent);
    field->setObjectName("export" + QString::fromStdString(p.id).left(1).toUpper() + QString::fromStdString(p.id).mid(1));
    connect(field, &NumberField::edited, field, [field](double value) { field->show(value, NumberField::Mark::none); });
    connect(field, &NumberField::trouble, said_, &QLabel::setText);
    return field;
}

/// Exporters that call a setting the same share its row, and what was typed there.
void ExportPanel::addSetting(const Parameter& p) {
    if (settings_.contains(p.id)) return;
    if (p.type == ParameterType::toggle) {
        auto* toggle = new Switch(this);
        toggle->setObjectName("export" + QString::fromStdString(p.id).left(1).toUpper() + QString::fromStdString(p.id).mid(1));
        toggle->setCheckable(true);
        toggle->setChecked(std::get<bool>(p.standard));
        toggle->setAccessibleName(QString::fromStdString(p.label));
        settings_[p.id] = toggle;
        return addRow(p, toggle);
    }
    NumberField* field = number(p, this);
    field->show(std::get<Numbers>(p.standard).front().value, NumberField::Mark::none);
    settings_[p.id] = field;
    // The size of pictures is the project's.
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
    addRow(p, field);
}

void ExportPanel::addRow(const Parameter& p, QWidget* field) {
    form_->addRow(QString::fromStdString(p.label), field);
    form_->labelForField(field)->setToolTip(QString::fromStdString(p.summary));
}

/// What was typed or switched for a setting.
Value ExportPanel::typed(const std::string& id) const {
    const QWidget* field = settings_.at(id);
    if (const auto* toggle = qobject_cast<const Switch*>(field)) return toggle->isChecked();
    return fixedNumbers({qobject_cast<const NumberField*>(field)->value()});
}

void ExportPanel::take(const ExporterKind& kind) { format_->setCurrentIndex(format_->findData(QString::fromStdString(kind.id))); }

const ExporterKind& ExportPanel::kind() const { return *exporters()[static_cast<std::size_t>(format_->currentIndex())]; }

QString ExportPanel::suggestedName() const {
    const auto& path = document_.path();
    const std::string stem = path.empty() ? "untitled" : path.stem().string();
    const QString folder = path.empty() ? QDir::homePath() : QString::fromStdString(path.parent_path().string());
    return folder + "/" + QString::fromStdString(stem + kind().ending);
}

void ExportPanel::showFitting() {
    const auto show = [this](QWidget* field, bool shown) {
        field->setVisible(shown);
        form_->labelForField(field)->setVisible(shown);
    };
    for (const auto& [id, field] : settings_) show(field, kind().indexOf(id) >= 0);
    show(frames_, kind().moves);
    showFrames();
    path_->setText(suggestedName());
    tell(QString::fromStdString(kind().summary), true);
}

/// The whole project, as long as nothing else was typed.
void ExportPanel::showFrames() {
    const FrameRange now = framesOf(document_.scene());
    if (!project_ || first_->value() == project_->first) first_->show(now.first, NumberField::Mark::none);
    if (!project_ || last_->value() == project_->last) last_->show(now.last, NumberField::Mark::none);
    project_ = now;
}

void ExportPanel::browse() {
    const QString chosen = file_dialog::save(this, "Export to", path_->text());
    if (!chosen.isEmpty()) path_->setText(chosen);
}

void ExportPanel::start() {
    if (running()) return;
    const ObjectId swarm = document_.swarm();
    if (!swarm) return finish(false, "There is no swarm to export yet.");
    Part settings = standardPart(kind());
    for (std::size_t i = 0; i < settings.values.size(); ++i) settings.values[i] = typed(kind().parameters[i].id);
    const std::filesystem::path path = path_->text().toStdString();
    const FrameRange range{static_cast<int>(first_->value()), static_cast<int>(last_->value())};
    const Scene scene = document_.scene();
    const double frame = document_.frame();
    const PlanOptions options{{}, document_.folder()};
    progress_ = std::make_shared<Progress>();
    began_ = QDateTime::currentMSecsSinceEpoch();
    start_->setEnabled(false);
    cancel_->show();
    bar_->setValue(0);
    bar_->show();
    timer_.start();
    if (thread_.joinable()) thread_.join();
    thread_ = std::thread([this, progress = progress_, settings, scene, frame, range, swarm, options, path] {
        bool fine = true;
        QString sentence = QString("Wrote %1.").arg(QString::fromStdString(path.string()));
        try {
            Evaluator evaluator;
            ExportFrames frames{evaluator, scene, options, frame, range, swarm};
            frames.live = live::liveStill();
            writeExport(settings, frames, path, *progress);
        } catch (const Cancelled&) {
            fine = false;
            sentence = "Cancelled; finished files were kept.";
        } catch (const std::exception& error) {
            fine = false;
            sentence = QString::fromUtf8(error.what());
        }
        QMetaObject::invokeMethod(
            this, [this, fine, sentence] { finish(fine, sentence); }, Qt::QueuedConnection);
    });
}

void ExportPanel::finish(bool fine, const QString& sentence) {
    if (thread_.joinable()) thread_.join();
    timer_.stop();
    progress_.reset();
    start_->setEnabled(true);
    cancel_->hide();
    bar_->hide();
    tell(sentence, fine);
    emit ended(fine, sentence);
}

void ExportPanel::tick() {
    const double share = progress_ ? progress_->fraction() : 0;
    bar_->setValue(static_cast<int>(share * 1000));
    const double gone = static_cast<double>(QDateTime::currentMSecsSinceEpoch() - began_) / 1000;
    bar_->setFormat(share > 0.02 ? QString("%p % · about %1 s left").arg(std::ceil(gone / share * (1 - share))) : "starting");
}

void ExportPanel::tell(const QString& sentence, bool fine) {
    said_->setStyleSheet(fine ? "color: #ece3d2;" : "color: #f08a72;");
    said_->setText(sentence);
}
