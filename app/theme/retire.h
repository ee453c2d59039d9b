#pragma once
class QWidget;

/// Hides a widget for good. It goes once the event that led here is over, since what is being clicked may live in it; until
/// then nothing in it speaks or listens, so that what it stood for may be gone already.
void retire(QWidget* widget);
