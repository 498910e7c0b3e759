#include "check/check_column.h"

#include "style/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

CheckColumn::CheckColumn(Session &session, Canvas &canvas, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_glass(new PickGlass(session, canvas, jobs, this)),
      m_zoom(new QToolButton(this)), m_what(new QToolButton(this)),
      m_fieldTitle(new QLabel(tr("Colour field"), this)),
      m_colourField(new ColourFieldView(session, jobs, this)),
      m_historyTitle(new QLabel(tr("Done so far"), this)), m_history(new QListWidget(this))
{
    setFixedWidth(248);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 6, 14, 10);
    layout->setSpacing(8);

    auto *head = new QHBoxLayout;
    head->setContentsMargins(0, 0, 0, 0);
    head->setSpacing(2);
    auto *title = new QLabel(tr("Pick glass"), this);
    title->setFont(titleFont());
    head->addWidget(title);
    head->addStretch();
    for (QToolButton *button : {m_zoom, m_what}) {
        button->setProperty("flat", true);
        head->addWidget(button);
    }
    m_zoom->setToolTip(tr("Enlargement: 2, 4 or 8 times"));
    m_what->setToolTip(tr("Show the result or the mask in the glass"));
    connect(m_zoom, &QToolButton::clicked, m_glass,
            [this] { m_glass->setZoom(m_glass->zoom() == 8 ? 2 : m_glass->zoom() * 2); });
    connect(m_what, &QToolButton::clicked, m_glass,
            [this] { m_glass->setShowsMask(!m_glass->showsMask()); });
    connect(m_glass, &PickGlass::optionsChanged, this, &CheckColumn::refreshOptions);
    layout->addLayout(head);
    layout->addWidget(m_glass);
    layout->addSpacing(18);
    m_fieldTitle->setFont(titleFont());
    layout->addWidget(m_fieldTitle);
    layout->addWidget(m_colourField);
    layout->addSpacing(18);
    m_historyTitle->setFont(titleFont());
    layout->addWidget(m_historyTitle);
    m_history->setAccessibleName(tr("Done so far"));
    m_history->setToolTip(tr("Click a line to go back or forward to it"));
    layout->addWidget(m_history, 1);

    connect(m_history, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0 && row != int(m_session.history().index()))
            m_session.jumpTo(row);
    });
    connect(&m_session, &Session::historyChanged, this, &CheckColumn::refreshHistory);
    refreshOptions();
    refreshHistory();
}

void CheckColumn::refreshOptions()
{
    m_zoom->setText(QString::number(m_glass->zoom()) + QStringLiteral("×"));
    m_what->setText(m_glass->showsMask() ? tr("mask") : tr("result"));
    m_zoom->setAccessibleName(tr("Enlargement %1 times").arg(m_glass->zoom()));
}

void CheckColumn::refreshHistory()
{
    const QSignalBlocker blocker(m_history);
    const auto &entries = m_session.history().entries();
    const int count = m_session.hasPhoto() ? int(entries.size()) : 0;
    while (m_history->count() > count)
        delete m_history->takeItem(m_history->count() - 1);
    for (int i = 0; i < count; ++i) {
        if (i >= m_history->count())
            m_history->addItem(QString());
        QListWidgetItem *item = m_history->item(i);
        item->setText(QString::fromStdString(entries[size_t(i)].text));
        const bool isUndone = size_t(i) > m_session.history().index();
        item->setForeground(isUndone ? felt().line : felt().ink);
    }
    m_history->setCurrentRow(count > 0 ? int(m_session.history().index()) : -1);
}

void CheckColumn::changeEvent(QEvent *event)
{
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::StyleChange)
        refreshHistory(); // its colours are the theme's
    QWidget::changeEvent(event);
}

void CheckColumn::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    for (const QLabel *title : {m_fieldTitle, m_historyTitle}) {
        const double y = title->y() - 14.5;
        drawStitchLine(painter, {8, y}, {width() - 8.0, y});
    }
}

} // namespace buttonhole::app
