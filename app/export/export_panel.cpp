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
#include <QSpinBox>

#include "app/document/document.h"
#include "app/theme/file_dialog.h"
#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/exchange/export.h"

using namespace gswarm;

namespace {

struct Format {
    const char *id, *label, *ending, *about;
    bool picture, moves;
};
constexpr Format formats[] = {
    {"still", "Picture of this frame (PNG)", ".png", "Traced with sun, sky and soft shadows.", true, false},
    {"sequence", "Frames (PNG sequence)", ".png", "Traced, one numbered file a frame. What is written stays if you cancel.", true, true},
    {"gltf", "Geometry of this frame (glTF, instanced)", ".glb",
     "Small and exact, with EXT_mesh_gpu_instancing: for programs that know instances.", false, false},
    {"baked", "Animation (glTF, plain nodes)", ".glb",
     "Every instance a node with baked keys, for any viewer. Colours are those of the first frame.", false, true},
    {"csv", "Table of this frame (CSV)", ".csv", "Every value of every instance of the selected swarm, in world space.", false, false},
};

QSpinBox* spin(int low, int high, int value, const char* name, QWidget* parent) {
    auto* box = new QSpinBox(parent);
    box->setRange(low, high);
    box->setValue(value);
    box->setObjectName(name);
    box->setFont(theme::numbers());
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
    box->setStyleSheet(
        "QSpinBox { background: #15120e; border: 1px solid #3a3329; border-radius: 4px; padding: 0 6px; min-height: 24px; } QSpinBox:focus "
        "{ border-color: #d9a441; }");
    return box;
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
    form_ = new QFormLayout;
    form_->setSpacing(6);
    form_->setLabelAlignment(Qt::AlignLeft);
    format_ = new QComboBox(this);
    format_->setObjectName("exportFormat");
    format_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    for (const Format& f : formats) format_->addItem(f.label, f.id);
    width_ = spin(1, 16384, 1280, "exportWidth", this);
    height_ = spin(1, 16384, 720, "exportHeight", this);
    samples_ = spin(1, 4096, 64, "exportSamples", this);
    samples_->setToolTip("More samples, less grain, more time");
    form_->addRow("What", format_);
    form_->addRow("Width", width_);
    form_->addRow("Height", height_);
    form_->addRow("Samples", samples_);
    frames_ = new QWidget(this);
    auto* frames = new QHBoxLayout(frames_);
    frames->setContentsMargins(0, 0, 0, 0);
    first_ = spin(-100000, 100000, 0, "exportFirst", frames_);
    last_ = spin(-100000, 100000, 0, "exportLast", frames_);
    first_->setAccessibleName("First frame");
    last_->setAccessibleName("Last frame");
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
    said_ = new QLabel(this);
    said_->setWordWrap(true);
    said_->setStyleSheet("color: #a3967f;");
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
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

QString ExportPanel::suggestedName() const {
    const Format& format = formats[format_->currentIndex()];
    const auto& path = document_.path();
    const std::string stem = path.empty() ? "untitled" : path.stem().string();
    const QString folder = path.empty() ? QDir::homePath() : QString::fromStdString(path.parent_path().string());
    return folder + "/" + QString::fromStdString(stem) + format.ending;
}

void ExportPanel::showFitting() {
    const Format& format = formats[format_->currentIndex()];
    for (QWidget* field : {static_cast<QWidget*>(width_), static_cast<QWidget*>(height_), static_cast<QWidget*>(samples_)}) {
        field->setVisible(format.picture);
        form_->labelForField(field)->setVisible(format.picture);
    }
    frames_->setVisible(format.moves);
    form_->labelForField(frames_)->setVisible(format.moves);
    showFrames();
    path_->setText(suggestedName());
    said_->setText(format.about);
}

void ExportPanel::showFrames() {
    const FrameRange now = framesOf(document_.scene());
    if (first_->value() == project_.first) first_->setValue(now.first);
    if (last_->value() == project_.last) last_->setValue(now.last);
    project_ = now;
}

void ExportPanel::browse() {
    const QString chosen = file_dialog::save(this, "Export to", path_->text());
    if (!chosen.isEmpty()) path_->setText(chosen);
}

void ExportPanel::start() {
    if (running()) return;
    const Format& format = formats[format_->currentIndex()];
    const std::filesystem::path path = path_->text().toStdString();
    if (path.extension() != format.ending)
        return finish(false, QString("The file must end in %1; nothing was written.").arg(format.ending));
    const FrameRange frames{first_->value(), last_->value()};
    if (format.moves && frames.first > frames.last)
        return finish(false, "The last frame must not be before the first; nothing was written.");
    const Scene scene = document_.scene();
    const double frame = document_.frame();
    const ObjectId swarm = document_.swarm();
    if (!swarm) return finish(false, "There is no swarm to export yet.");
    const PlanOptions options{{}, document_.folder()};
    const TraceSize size{width_->value(), height_->value(), samples_->value(), 1};
    progress_ = std::make_shared<Progress>();
    began_ = QDateTime::currentMSecsSinceEpoch();
    start_->setEnabled(false);
    cancel_->show();
    bar_->setValue(0);
    bar_->show();
    timer_.start();
    if (thread_.joinable()) thread_.join();
    const std::string id = format.id;
    thread_ = std::thread([this, progress = progress_, scene, frame, frames, swarm, options, size, path, id] {
        bool fine = true;
        QString sentence = QString("Wrote %1.").arg(QString::fromStdString(path.string()));
        try {
            Evaluator evaluator;
            if (id == "still") exportStill(evaluator, scene, options, frame, size, path, *progress);
            if (id == "sequence") exportSequence(evaluator, scene, options, frames, size, path, *progress);
            if (id == "gltf") exportGltfStill(evaluator, scene, options, frame, path, *progress);
            if (id == "baked") exportGltfBaked(evaluator, scene, options, frames, path, *progress);
            if (id == "csv") exportCsv(evaluator, scene, swarm, options, frame, path, *progress);
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
    said_->setStyleSheet(fine ? "color: #ece3d2;" : "color: #f08a72;");
    said_->setText(sentence);
    emit ended(fine, sentence);
}

void ExportPanel::tick() {
    const double share = progress_ ? progress_->fraction() : 0;
    bar_->setValue(static_cast<int>(share * 1000));
    const double gone = static_cast<double>(QDateTime::currentMSecsSinceEpoch() - began_) / 1000;
    bar_->setFormat(share > 0.02 ? QString("%p % · about %1 s left").arg(std::ceil(gone / share * (1 - share))) : "starting");
}
