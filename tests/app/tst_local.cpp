#include "controls/slider.h"
#include "document/finish_starts.h"
#include "light/signature.h"
#include "ticket/ticket.h"

#include "prepare_fixture.h"
#include "registry.h"

#include <QColorDialog>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>

using namespace buttonhole;
using test::WindowDriver;

/// Local tones, by mouse and keys.
class TstLocal : public test::PrepareFixture
{
    Q_OBJECT

    const std::vector<LocalTone> &tones() { return m_driver->session().work().take().tones; }

    /// By the menu under the ticket.
    void start(const char *name) { choose("newLocal", "localMenu", name); }
    void finishWith(const char *name) { choose("newFinish", "finishMenu", name); }
    void choose(const char *button, const char *menuName, const char *name)
    {
        press(button);
        auto &menu = child<QMenu>(menuName);
        QTRY_VERIFY(menu.isVisible());
        for (QAction *action : menu.actions())
            if (action->objectName() == QLatin1String(name) && action->isEnabled())
                action->trigger();
        menu.close();
        m_driver->window().activateWindow(); // as a desktop does when a menu goes
        QTRY_VERIFY(m_driver->window().isActiveWindow());
        m_driver->canvas().setFocus();
    }
    void drag(const char *slider, int steps, Qt::Key key = Qt::Key_Right)
    {
        auto &each = child<app::Slider>(slider);
        each.setFocus();
        for (int i = 0; i < steps; ++i)
            QTest::keyClick(&each, key);
        m_driver->settle();
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("mill-pond.jpg")));
    }
    void cleanup() { m_driver.reset(); }

    void aToneActsWhereItWasPainted()
    {
        start("empty");
        QCOMPARE(tones().size(), size_t(1));
        QVERIFY(m_driver->session().tone());
        m_driver->key(Qt::Key_1);
        m_driver->window().brush().setTip({300, 0.2F, 1, 1, PressureSteers::Nothing});
        const int before = m_driver->colourAt(800, 600).lightness();
        m_driver->paint({{700, 600}, {900, 600}});
        m_driver->settle();
        QCOMPARE(tones()[0].steps.size(), size_t(1));
        QVERIFY(m_driver->session().work().take().keeps[0].steps.empty());
        // Nothing is set yet: its mask is seen.
        QVERIFY(test::colourfulness(m_driver->colourAt(800, 600)) > 10);
        m_driver->session().select({app::TicketLine::Kind::Tone, tones()[0].id});
        drag("light.exposureEv", 30);
        QVERIFY(tones()[0].effects[0]->number(0) > 0.2F);
        QCOMPARE(test::colourfulness(m_driver->colourAt(800, 600)), 0);
        QVERIFY(m_driver->colourAt(800, 600).lightness() > before + 10);
        const QColor beside = m_driver->colourAt(1500, 1200);
        drag("fog.amount", 40);
        QCOMPARE(m_driver->colourAt(1500, 1200), beside);
        QVERIFY(tones()[0].effects[5]->number(0) > 0.3F);
        for (int i = 0; i < 80 && !tones()[0].effects[0]->isOff(); ++i)
            m_driver->session().undo();
        QVERIFY(tones()[0].effects[0]->isOff() && tones()[0].effects[4]->isOff());
    }

    void startsGoByTheKeep()
    {
        m_driver->key(Qt::Key_1);
        m_driver->window().brush().setTip({400, 0.2F, 1, 1, PressureSteers::Nothing});
        m_driver->paint({{800, 900}, {1200, 900}});
        m_driver->settle();
        m_driver->hover(200, 200); // the tip's ring is away
        const QColor kept = m_driver->colourAt(1000, 900);
        const int wall = m_driver->colourAt(2000, 500).lightness();
        start("settle");
        m_driver->settle();
        QCOMPARE(tones().size(), size_t(1));
        QCOMPARE(m_driver->colourAt(1000, 900), kept);
        QVERIFY(m_driver->colourAt(2000, 500).lightness() < wall - 4);
        start("spotlight");
        QCOMPARE(tones().size(), size_t(3));

        // Copied, moved and taken away from the ticket.
        m_driver->key(Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(tones().size(), size_t(4));
        const uint64_t last = m_driver->session().line().lineId;
        QCOMPARE(tones()[3].id, last);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Delete);
        QCOMPARE(tones().size(), size_t(3));
    }

    void tonesAreDraggedInTheTicket()
    {
        start("everything");
        start("empty");
        finishWith("vignette");
        const uint64_t last = tones()[1].id;
        const auto rowOf = [this](size_t i) {
            app::TicketRow *out = nullptr;
            for (app::TicketRow *each : m_driver->window().ticket().rows())
                if (each->content().line.lineId == tones()[i].id)
                    out = each;
            return out;
        };
        const auto dragBy = [](app::TicketRow *row, int y) {
            const QPoint from = row->rect().center();
            QTest::mousePress(row, Qt::LeftButton, {}, from);
            QTest::mouseMove(row, from + QPoint(0, y / 2));
            QTest::mouseMove(row, from + QPoint(0, y));
            QTest::mouseRelease(row, Qt::LeftButton, {}, from + QPoint(0, y));
        };
        dragBy(rowOf(1), rowOf(0)->y() - rowOf(1)->y() - 10);
        QCOMPARE(tones()[0].id, last);
        dragBy(rowOf(0), 400); // below the finish: among the tones it stays
        QCOMPARE(tones()[1].id, last);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(tones()[0].id, last);
        QTest::mouseDClick(rowOf(0), Qt::LeftButton, {}, rowOf(0)->rect().center());
        QTRY_VERIFY(qobject_cast<QLineEdit *>(QApplication::focusWidget()));
    }

    void aVignetteFollowsTheCrop()
    {
        const int corner = m_driver->colourAt(900, 420).lightness();
        finishWith("vignette");
        const auto &finish = [this]() -> const std::vector<AdjustmentLine> & {
            return m_driver->session().work().take().finish;
        };
        QCOMPARE(finish().size(), size_t(1));
        finishWith("vignette"); // there is one
        QCOMPARE(finish().size(), size_t(1));
        QVERIFY(m_driver->session().adjustment());
        // In the middle of the photo it does nothing, but there as well once that is a corner.
        QVERIFY(std::abs(m_driver->colourAt(900, 420).lightness() - corner) < 12);
        Take cropped = m_driver->session().work().take();
        cropped.geometry.crop = {890, 410, 1700, 1000};
        m_driver->session().edit(QStringLiteral("Crop"), cropped);
        m_driver->settle();
        QVERIFY(m_driver->colourAt(900, 420).lightness() < corner - 12);
        drag("vignette.amount", 30);
        QVERIFY(finish()[0].adjustment->number(0) > -0.05F);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Delete);
        QVERIFY(finish().empty());
    }

    void aSignatureIsTypedAndPlaced()
    {
        auto &canvas = m_driver->canvas();
        const QImage plain = canvas.grab().toImage();
        finishWith("signature");
        auto &text = child<QLineEdit>("signatureText");
        text.setFocus();
        QTest::keyClicks(&text, QStringLiteral("Mill"));
        m_driver->settle();
        const auto signature = [this] {
            return std::dynamic_pointer_cast<const Signature>(
                m_driver->session().work().take().finish.at(0).adjustment);
        };
        QCOMPARE(signature()->words().text, std::string("Mill"));
        QCOMPARE(m_driver->session().history().entries().size(), size_t(3)); // typed as one
        drag("signature.size", 60);
        const QRectF below(1800, 1300, 580, 290);
        const auto inked = [&](const QRectF &part) { // px of the widget
            const QImage now = canvas.grab().toImage();
            const QRect area(canvas.transform().toWidget(part.topLeft()).toPoint(),
                             canvas.transform().toWidget(part.bottomRight()).toPoint());
            int out = 0;
            for (int y = area.top(); y < area.bottom(); ++y)
                for (int x = area.left(); x < area.right(); ++x)
                    out += std::abs(now.pixelColor(x, y).lightness() -
                                    plain.pixelColor(x, y).lightness()) > 60;
            return out;
        };
        QTRY_VERIFY_WITH_TIMEOUT(inked(below) > 100, 30000);
        press("signaturePlace6"); // at the left
        m_driver->settle();
        QTRY_COMPARE_WITH_TIMEOUT(inked(below), 0, 30000);
        QCOMPARE(signature()->place().across, 0.0F);
        m_driver->session().undo();
        QTRY_VERIFY_WITH_TIMEOUT(inked(below) > 100, 30000);

        // A drawing instead, and what is none.
        const QString mark = m_folder.filePath(QStringLiteral("mark.svg"));
        QVERIFY(
            QFile::copy(QStringLiteral(BUTTONHOLE_SOURCE "/app/resources/buttonhole.svg"), mark));
        const auto choose = [this](const QString &path) {
            press("signatureDrawing");
            auto &dialog = child<QFileDialog>("drawingDialog");
            Q_EMIT dialog.fileSelected(path);
            dialog.close();
            m_driver->settle();
        };
        choose(test::demo("mill-pond.take.json"));
        QTRY_VERIFY(!child<QLabel>("signatureProblem").text().isEmpty());
        QVERIFY(signature()->words().drawing.empty());
        choose(mark);
        QTRY_VERIFY_WITH_TIMEOUT(!signature()->words().drawing.empty(), 30000);
        QVERIFY(!text.isEnabled());
        press("signatureDrawing");
        QTRY_VERIFY(signature()->words().drawing.empty());
    }

    void aSignatureThatCannotBeDrawnIsTold()
    {
        Take signedTake =
            withSignature(m_driver->session().work().take(), {{}, {}, test::hostileDrawing()});
        m_driver->session().edit(QStringLiteral("Signature"), signedTake);
        auto &message = child<QLabel>("statusWord");
        QTRY_VERIFY_WITH_TIMEOUT(message.text().contains(QStringLiteral("signature")), 30000);
        m_driver->settle();
        QVERIFY(m_driver->save(m_folder.filePath(QStringLiteral("hostile.buttonhole"))));
        WindowDriver again(m_folder.filePath(QStringLiteral("again")));
        QVERIFY(again.open(m_folder.filePath(QStringLiteral("hostile.buttonhole"))));
        QCOMPARE(again.session().take()->finish.size(), size_t(1));
        QCOMPARE(again.colourAt(900, 420), m_driver->colourAt(900, 420));
    }

    void aFrameTakesItsRoom()
    {
        const Take plain = m_driver->session().work().take();
        auto &canvas = m_driver->canvas();
        const double scale = canvas.transform().scale();
        const QColor edge = m_driver->colourAt(3, 800);
        finishWith("border");
        m_driver->settle();
        QVERIFY(canvas.transform().scale() < scale); // all of it is fitted
        const auto at = [&](double x, double y) {    // also beside the picture
            const QPointF place = canvas.transform().toWidget({x, y});
            return canvas.grab().toImage().pixelColor(place.toPoint());
        };
        QCOMPARE(at(-40, 800), QColor(Qt::white));
        QCOMPARE(at(1200, 1640), QColor(Qt::white));
        QVERIFY(std::abs(m_driver->colourAt(8, 800).lightness() - edge.lightness()) < 30);
        drag("frame.lightness", 60, Qt::Key_Left);
        QVERIFY(at(-40, 800).lightness() < 150);
        drag("frame.over", 100);
        QCOMPARE(canvas.transform().scale(), scale);
        QVERIFY(at(40, 800).lightness() < 150);
        finishWith("corners"); // another start of the same line
        QCOMPARE(m_driver->session().work().take().finish.size(), size_t(1));
        while (m_driver->session().history().canUndo())
            m_driver->session().undo();
        QCOMPARE(canvas.transform().scale(), scale);
        QVERIFY(m_driver->session().work().take().finish.empty());
    }

    void aKeepsColourHasStarts()
    {
        m_driver->key(Qt::Key_1);
        m_driver->window().brush().setTip({300, 0.2F, 1, 1, PressureSteers::Nothing});
        m_driver->paint({{800, 900}, {1000, 900}});
        m_driver->session().select(
            {app::TicketLine::Kind::Keep, m_driver->session().work().take().keeps[0].id});
        const auto look = [this] { return m_driver->session().work().take().keeps[0].look; };
        choose("lookStarts", "lookMenu", "muted");
        QVERIFY(look().saturation < 0.6F);
        choose("lookStarts", "lookMenu", "match");
        auto *dialog = m_driver->window().findChild<QColorDialog *>();
        QVERIFY(dialog);
        dialog->setCurrentColor(QColor(200, 60, 40));
        QTest::keyClick(dialog, Qt::Key_Return);
        QTRY_VERIFY(look().hueShiftDeg != 0);
        m_driver->settle();
        m_driver->hover(200, 200);
        const QColor made = m_driver->colourAt(900, 900);
        QVERIFY(made.red() > made.green() + 40);
        const QColor beside = m_driver->colourAt(635, 900);
        drag("glow.strength", 60);
        QVERIFY(m_driver->colourAt(635, 900) != beside);
        choose("lookStarts", "lookMenu", "plain");
        QVERIFY(look() == ColourLook());
    }

    void dodgingIsDoneByASoftBrush()
    {
        const Tip own = m_driver->window().brush().tip();
        start("dodge");
        QVERIFY(m_driver->window().brush().tip().flow < 0.2F);
        const int before = m_driver->colourAt(800, 600).lightness();
        m_driver->paint({{700, 600}, {900, 600}});
        m_driver->paint({{900, 600}, {700, 600}});
        m_driver->settle();
        m_driver->hover(200, 200);
        QVERIFY(m_driver->colourAt(800, 600).lightness() > before + 3);
        m_driver->session().select({app::TicketLine::Kind::Grey, 0});
        QCOMPARE(m_driver->window().brush().tip().flow, own.flow);
        QCOMPARE(m_driver->window().brush().tip().edgeHold, own.edgeHold);
    }

    void whatItActsOnIsChosen()
    {
        start("everything");
        auto &choice = child<QComboBox>("actsOn");
        QCOMPARE(choice.currentIndex(), 0);
        Q_EMIT choice.activated(1);
        QVERIFY(tones()[0].actsOn == ActsOn::Grey);
        m_driver->session().undo();
        QVERIFY(tones()[0].actsOn == ActsOn::All);
        const QString file = m_folder.filePath(QStringLiteral("local.buttonhole"));
        Q_EMIT choice.activated(2);
        QVERIFY(m_driver->save(file));
        QVERIFY(m_driver->open(file));
        QVERIFY(tones()[0].actsOn == ActsOn::Kept);
    }
};

BUTTONHOLE_TEST(TstLocal)

#include "tst_local.moc"
