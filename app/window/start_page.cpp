#include "window/start_page.h"

#include "commands/action_rows.h"
#include "sheet/quick_picture.h"
#include "style/theme.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QToolButton>

namespace buttonhole::app
{

namespace
{

constexpr int kColumns = 3;
constexpr int kMostCards = 6;
constexpr QSize kPicture(176, 118);

/// Fills the card's picture, what is beyond cut off on both sides alike.
QPixmap cardPicture(const QImage &image, double ratio)
{
    QPixmap out(kPicture * ratio);
    out.setDevicePixelRatio(ratio);
    out.fill(felt().line);
    if (image.isNull())
        return out;
    const QSizeF fit = QSizeF(image.size()).scaled(kPicture, Qt::KeepAspectRatioByExpanding);
    QPainter painter(&out);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(QRectF(QPointF((kPicture.width() - fit.width()) / 2,
                                     (kPicture.height() - fit.height()) / 2),
                             fit),
                      image);
    return out;
}

} // namespace

StartPage::StartPage(Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_jobs(jobs), m_head(new QLabel(this)), m_grid(new QGridLayout),
      m_other(new QToolButton(this))
{
    setAccessibleName(tr("Start"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(24, 20, 24, 20);
    layout->setSpacing(12);
    auto *drop = new QLabel(tr("Drop a photo here, or"), this);
    auto *open = new QToolButton(this);
    open->setText(tr("Open a photo…"));
    open->setToolTip(withKey(tr("Choose a photo, or a work that was saved"), "open"));
    open->setProperty("accent", true);
    connect(open, &QToolButton::clicked, this, &StartPage::openAsked);
    auto *ways = new QHBoxLayout;
    ways->addWidget(drop);
    ways->addWidget(open);
    ways->addStretch();
    layout->addLayout(ways);
    m_head->setFont(titleFont());
    m_other->setProperty("accent", true);
    connect(m_other, &QToolButton::clicked, this, [this] {
        if (m_files == m_last)
            offer(demoPhotos(), tr("Demo photos"));
        else
            offer(m_last, tr("Last worked on"));
    });
    auto *head = new QHBoxLayout;
    head->addWidget(m_head);
    head->addStretch();
    head->addWidget(m_other);
    layout->addLayout(head);
    m_grid->setSpacing(10);
    layout->addLayout(m_grid);
}

QStringList StartPage::demoPhotos()
{
    const QDir program(QCoreApplication::applicationDirPath());
    for (const QString &folder : {program.filePath(QStringLiteral(BUTTONHOLE_DEMO_INSTALLED)),
                                  QStringLiteral(BUTTONHOLE_DEMO_BUILD)}) {
        const QDir photos(folder);
        QStringList out;
        for (const QFileInfo &file :
             photos.entryInfoList({QStringLiteral("*.jpg")}, QDir::Files, QDir::Name))
            out.append(file.canonicalFilePath());
        if (!out.isEmpty())
            return out;
    }
    return {};
}

void StartPage::setFiles(const QStringList &last)
{
    m_last.clear();
    for (const QString &path : last)
        if (m_last.size() < kMostCards && QFileInfo::exists(path))
            m_last.append(path);
    if (m_last.isEmpty())
        offer(demoPhotos(), tr("Photos to try it on"));
    else
        offer(m_last, tr("Last worked on"));
}

void StartPage::offer(const QStringList &files, const QString &head)
{
    m_files = files.mid(0, kMostCards);
    qDeleteAll(m_cards);
    m_cards.clear();
    m_head->setText(m_files.isEmpty() ? QString() : head);
    m_other->setText(m_files == m_last ? tr("Demo photos") : tr("Last worked on"));
    m_other->setVisible(!m_last.isEmpty() && !demoPhotos().isEmpty());
    for (const QString &path : m_files) {
        auto *card = new QToolButton(this);
        const QString name = QFileInfo(path).completeBaseName();
        card->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        card->setIconSize(kPicture);
        card->setIcon(cardPicture({}, devicePixelRatioF()));
        card->setText(card->fontMetrics().elidedText(name, Qt::ElideMiddle, kPicture.width()));
        card->setToolTip(path.toHtmlEscaped());
        card->setAccessibleName(name);
        connect(card, &QToolButton::clicked, this, [this, path] { Q_EMIT chosen(path); });
        m_grid->addWidget(card, int(m_cards.size()) / kColumns, int(m_cards.size()) % kColumns);
        m_cards.append(card);
        card->setVisible(true);
    }
    readPictures();
}

void StartPage::readPictures()
{
    m_reading.request_stop();
    const uint64_t round = ++m_round;
    std::vector<std::string> paths;
    for (const QString &path : m_files)
        paths.push_back(path.toStdString());
    m_reading = m_jobs.start(
        {},
        [paths](const Run &run) {
            QList<QImage> out;
            for (const std::string &path : paths)
                out.append(run.stopped() ? QImage()
                                         : quickPicture(QString::fromStdString(path),
                                                        2 * kPicture.width(), run));
            return out;
        },
        [this, round, guard = QPointer<StartPage>(this)](const QList<QImage> &pictures) {
            if (!guard || round != m_round)
                return;
            for (int i = 0; i < std::min(pictures.size(), m_cards.size()); ++i)
                m_cards[i]->setIcon(cardPicture(pictures[i], devicePixelRatioF()));
        });
}

void StartPage::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(felt().felt);
    painter.drawRoundedRect(rect(), 12, 12);
}

} // namespace buttonhole::app
