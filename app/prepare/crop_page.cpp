// The Crop page of the Prepare line; the rest is in prepare_details.cpp.
#include "prepare/prepare_details.h"

#include "commands/move_words.h"
#include "controls/help_text.h"
#include "controls/sign_button.h"
#include "controls/tabbed_pages.h"
#include "prepare/crop_ideas_row.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QRegularExpression>
#include <QSpinBox>
#include <QToolButton>
#include <QVBoxLayout>

#include <cmath>

namespace buttonhole::app
{

namespace
{

struct Ratio {
    int width;
    int height;
};
constexpr Ratio kRatios[] = {{1, 1}, {5, 4}, {4, 3}, {7, 5}, {3, 2}, {16, 9}, {2, 1}};

/// "7:3", "7 x 3" or "2.33"; 0 where it is none.
double ratioFrom(const QString &text)
{
    static const QRegularExpression two(
        QStringLiteral("^\\s*([0-9.,]+)\\s*[:/x×]\\s*([0-9.,]+)\\s*$"));
    const auto number = [](QString word) {
        return word.replace(QLatin1Char(','), QLatin1Char('.')).toDouble();
    };
    const auto parts = two.match(text);
    const double ratio = parts.hasMatch() && number(parts.captured(2)) > 0
                             ? number(parts.captured(1)) / number(parts.captured(2))
                             : number(text);
    constexpr double kMost = 20;
    return ratio >= 1 / kMost && ratio <= kMost ? ratio : 0;
}

} // namespace

void PrepareDetails::addCrop()
{
    QVBoxLayout *page = m_pages->add(tr("Crop"), tr("What of the photo leaves, and which way up"));
    addCropNumbers(page);
    addTurns(page);
    m_straighten = new StraightenPanel(m_session, m_jobs, this);
    connect(m_straighten, &StraightenPanel::canvasAsked, this, &PrepareDetails::canvasAsked);
    connect(m_straighten, &StraightenPanel::cornersAllowed, &m_crop, &CropHand::setAllowsCorners);
    page->addWidget(m_straighten);
    page->addWidget(new CropIdeasRow(m_session, m_jobs, m_crop, this));
    auto *help = new HelpText(
        tr("Drag the frame or its handles; drag beside it for another. Arrows move it by a pixel. "
           "X turns it over, G changes the guides, Enter is done."),
        this);
    constexpr int kHelpHeight = 84; // px, its four lines
    help->setFixedHeight(kHelpHeight);
    help->setAlignment(Qt::AlignTop);
    page->addWidget(help);
    page->addStretch();
}

void PrepareDetails::addCropNumbers(QVBoxLayout *page)
{
    auto *grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(8);
    grid->setColumnStretch(1, 1);
    const auto add = [&](const QString &name, QWidget *field) {
        auto *label = new QLabel(name, this);
        label->setBuddy(field);
        field->setAccessibleName(name);
        const int row = grid->rowCount();
        grid->addWidget(label, row, 0);
        grid->addWidget(field, row, 1);
    };
    m_ratio = new QComboBox(this);
    m_ratio->setObjectName(QStringLiteral("ratio"));
    m_ratio->addItem(tr("Any"), 0.0);
    m_ratio->addItem(tr("As taken"), -1.0);
    for (const Ratio &each : kRatios)
        m_ratio->addItem(QStringLiteral("%1:%2").arg(each.width).arg(each.height),
                         double(each.width) / each.height);
    m_ratio->setToolTip(tr("Width to height; type any, as 7:3. X turns it over"));
    m_ratio->setEditable(true);
    m_ratio->setInsertPolicy(QComboBox::NoInsert);
    connect(m_ratio->lineEdit(), &QLineEdit::returnPressed, this, [this] {
        if (m_ratio->findText(m_ratio->currentText()) >= 0)
            return; // chosen, not typed
        const double ratio = ratioFrom(m_ratio->currentText());
        m_crop.setRatio(ratio);
        if (ratio == 0)
            m_ratio->setCurrentIndex(0);
        else
            Q_EMIT canvasAsked();
    });
    connect(m_ratio, &QComboBox::activated, this, [this](int index) {
        const PictureRect now = m_crop.crop();
        double ratio = m_ratio->itemData(index).toDouble();
        if (ratio < 0)
            ratio = double(m_session.levels()->photo().width) / m_session.levels()->photo().height;
        const bool isTall = now.height() > now.width();
        m_crop.setRatio(ratio > 0 && isTall == (ratio > 1) ? 1 / ratio : ratio);
        Q_EMIT canvasAsked();
    });
    add(tr("Ratio"), m_ratio);
    m_width = new QSpinBox(this);
    m_width->setObjectName(QStringLiteral("cropWidth"));
    m_height = new QSpinBox(this);
    m_height->setObjectName(QStringLiteral("cropHeight"));
    for (QSpinBox *field : {m_width, m_height}) {
        field->setRange(1, kMostPx);
        field->setSuffix(tr(" px"));
        field->setKeyboardTracking(false);
        field->setToolTip(tr("Of the picture that leaves"));
        connect(field, &QSpinBox::valueChanged, this, [this, field](int value) {
            if (m_isRefreshing || !m_session.hasPhoto())
                return;
            const PictureRect now = m_crop.crop();
            const double ratio = m_crop.ratio();
            const bool isWidth = field == m_width;
            const int other = ratio <= 0 ? (isWidth ? now.height() : now.width())
                              : isWidth  ? int(std::lround(value / ratio))
                                         : int(std::lround(value * ratio));
            m_crop.resize(isWidth ? value : other, isWidth ? other : value);
            refreshCrop(); // cut to the photo
        });
    }
    add(tr("Width"), m_width);
    add(tr("Height"), m_height);
    m_guides = new QComboBox(this);
    m_guides->setObjectName(QStringLiteral("guides"));
    m_guides->addItems(
        {tr("None"), tr("Thirds"), tr("Diagonals"), tr("Golden section"), tr("Centre")});
    m_guides->setToolTip(tr("Lines over the crop. G takes the next"));
    connect(m_guides, &QComboBox::activated, this,
            [this](int index) { m_crop.setGuides(CropHand::Guides(index)); });
    add(tr("Guides"), m_guides);
    add(tr("Delivered"), makeDelivered());
    page->addLayout(grid);
    m_enlarged = new QLabel(this);
    m_enlarged->setObjectName(QStringLiteral("enlarged"));
    m_enlarged->setTextFormat(Qt::PlainText);
    m_enlarged->hide();
    page->addWidget(m_enlarged);
}

/// The size in px that the picture is resized to when it leaves.
QWidget *PrepareDetails::makeDelivered()
{
    auto *row = new QWidget(this);
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    for (QSpinBox **field : {&m_deliverWidth, &m_deliverHeight}) {
        *field = new QSpinBox(row);
        (*field)->setRange(0, Geometry::kMostDelivered);
        (*field)->setSpecialValueText(tr("own"));
        (*field)->setKeyboardTracking(false);
        (*field)->setButtonSymbols(QAbstractSpinBox::NoButtons);
        (*field)->setToolTip(tr("Pixels that the picture is resized to when it is exported; 0: its "
                                "own size. The crop takes their ratio"));
        connect(*field, &QSpinBox::valueChanged, this,
                [this, isWidth = field == &m_deliverWidth](int px) {
                    if (!m_isRefreshing)
                        deliver(px, isWidth);
                });
        layout->addWidget(*field, 1);
        if (field == &m_deliverWidth)
            layout->addWidget(new QLabel(QStringLiteral("×"), row));
    }
    m_deliverWidth->setObjectName(QStringLiteral("deliverWidth"));
    m_deliverWidth->setAccessibleName(tr("Delivered width"));
    m_deliverHeight->setObjectName(QStringLiteral("deliverHeight"));
    m_deliverHeight->setAccessibleName(tr("Delivered height"));
    return row;
}

/// One of the two is set: the other follows the crop where it was not, and the crop follows both.
void PrepareDetails::deliver(int px, bool isWidth)
{
    if (!m_session.hasPhoto())
        return;
    Take take = m_session.work().take();
    Geometry &geometry = take.geometry;
    const PictureRect now = m_crop.crop();
    const double ratio = double(now.width()) / std::max(1, now.height());
    int &own = isWidth ? geometry.deliverWidth : geometry.deliverHeight;
    int &other = isWidth ? geometry.deliverHeight : geometry.deliverWidth;
    own = px;
    if (px == 0)
        other = 0;
    else if (other == 0)
        other = std::clamp(int(std::lround(isWidth ? px / ratio : px * ratio)), 1,
                           Geometry::kMostDelivered);
    const auto [width, height] = std::pair(geometry.deliverWidth, geometry.deliverHeight);
    m_session.edit(ofPrepare(tr("Delivered size")), std::move(take));
    m_crop.setRatio(height > 0 ? double(width) / height : 0);
    refreshCrop();
}

void PrepareDetails::refreshDelivered(const PictureRect &crop)
{
    const Geometry &geometry = m_session.take()->geometry;
    m_deliverWidth->setValue(geometry.deliverWidth);
    m_deliverHeight->setValue(geometry.deliverHeight);
    const double by = std::max(double(geometry.deliverWidth) / std::max(1, crop.width()),
                               double(geometry.deliverHeight) / std::max(1, crop.height()));
    constexpr double kHardly = 1.005;
    m_enlarged->setVisible(by > kHardly);
    m_enlarged->setText(
        tr("Enlarged %1 times: softer than it was taken.").arg(QLocale().toString(by, 'f', 1)));
}

void PrepareDetails::addTurns(QVBoxLayout *page)
{
    auto *row = new QGridLayout;
    row->setSpacing(5);
    const auto add = [&](const QString &name, const char *id, const QString &help, auto &&act) {
        QToolButton *button = makeSignButton(name, id, help, this);
        connect(button, &QToolButton::clicked, this, act);
        row->addWidget(button, row->count() / 2, row->count() % 2);
        return button;
    };
    const auto turn = [this](int by) {
        edit(tr("Quarter turn"),
             [by](Geometry &g) { g.quarterTurns = (g.quarterTurns + by + 4) % 4; });
    };
    add(tr("Turn left"), "turnLeft", tr("A quarter turn to the left"), [turn] { turn(-1); });
    add(tr("Turn right"), "turnRight", tr("A quarter turn to the right"), [turn] { turn(1); });
    m_mirror = add(tr("Mirror"), "mirror", tr("Left and right change places"), [this] {
        edit(tr("Mirror"), [](Geometry &g) {
            // As it is seen: turned by a quarter, the photo's top and bottom change places.
            g.isMirrored = !g.isMirrored;
            g.quarterTurns = (4 - g.quarterTurns) % 4;
        });
    });
    m_mirror->setCheckable(true);
    add(tr("Whole photo"), "wholePhoto", tr("Takes the crop back"), [this] { m_crop.takeAll(); });
    page->addLayout(row);
}

void PrepareDetails::edit(const QString &text, const std::function<void(Geometry &)> &change)
{
    if (!m_session.hasPhoto())
        return;
    Take take = m_session.work().take();
    change(take.geometry);
    m_session.edit(ofPrepare(text), std::move(take));
}

void PrepareDetails::refreshCrop()
{
    if (!m_session.hasPhoto())
        return;
    m_isRefreshing = true;
    const PictureRect crop = m_crop.crop();
    m_width->setValue(crop.width());
    m_height->setValue(crop.height());
    refreshDelivered(crop);
    m_guides->setCurrentIndex(int(m_crop.guides()));
    m_mirror->setChecked(m_session.take()->geometry.isMirrored);
    m_straighten->refresh();
    if (m_crop.ratio() == 0)
        m_ratio->setCurrentIndex(0);
    m_isRefreshing = false;
}

} // namespace buttonhole::app
