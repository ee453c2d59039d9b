#pragma once
#include "app/settings/moment_picture.h"
#include "core/provide/store.h"

/// The bands of a sound at the frame, three an octave from 40 Hz to 16 kHz, between −60 and 0 dB; what is listened to of them is bright.
class SoundPicture : public MomentPicture {
    Q_OBJECT

  public:
    /// `low` and `high` are what is listened to, hertz. The store has to outlive it.
    SoundPicture(Document& document, gswarm::Store& store, gswarm::ObjectId sound, double low, double high, QWidget* parent);
};
