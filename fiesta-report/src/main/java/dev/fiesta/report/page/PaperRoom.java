package dev.fiesta.report.page;

import com.openhtmltopdf.pdfboxout.PdfBoxRenderer;
import com.openhtmltopdf.render.Box;
import com.openhtmltopdf.render.PageBox;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * The room that pages have left below their last block, because the next one did not fit: charts on them grow into it. The last page of
 * a report, and those that end as the brief says, stay as they are.
 */
final class PaperRoom {
    /** Less is no gap that anybody sees. */
    private static final double LEAST = 0.08;
    /** A chart grows by so much of its height at most. */
    private static final double MOST = 0.4;
    /** What rounding may take of a page. */
    private static final double SPARE = 0.96;

    private static final double POINTS = 0.75;

    private final PdfBoxRenderer renderer;
    private final List<Blocks.Block> blocks;
    private final double unit;

    /** A page: where it begins and ends, the charts that stand on it, and where its last block ends. */
    private static final class Page {
        private final PageBox box;
        private final Map<String, Box> charts = new HashMap<>();
        private int bottom;
        private boolean ended;

        Page(PageBox box) {
            this.box = box;
            this.bottom = box.getTop();
        }
    }

    /**
     * @param renderer with pages that are laid out
     * @param blocks what stands on them
     */
    PaperRoom(PdfBoxRenderer renderer, List<Blocks.Block> blocks) {
        this.renderer = renderer;
        this.blocks = blocks;
        this.unit = renderer.getDotsPerPoint() * POINTS;
    }

    private List<PageBox> pages() {
        return renderer.getRootBox().getLayer().getPages();
    }

    private @Nullable Box box(Blocks.Block block) {
        return renderer.getSharedContext().getBoxById(block.id());
    }

    private static boolean isOn(PageBox page, Box box) {
        return box.getAbsY() < page.getBottom() && box.getAbsY() + box.getHeight() > page.getTop();
    }

    /** On which pages each block stands: growing charts shall change nothing of that. */
    List<BitSet> places() {
        List<BitSet> places = new ArrayList<>();
        for (Blocks.Block block : blocks) {
            Box box = box(block);
            BitSet on = new BitSet();
            for (int p = 0; p < pages().size() && box != null; p++) {
                on.set(p, isOn(pages().get(p), box));
            }
            places.add(on);
        }
        return places;
    }

    /** For charts by their ids how much higher they can be, in units of a 96th of an inch. */
    Map<String, Integer> higher() {
        List<Page> pages = pages().stream().map(Page::new).toList();
        Page last = null;
        for (Blocks.Block block : blocks) {
            Box box = box(block);
            if (block.kind().equals("page") && last != null) {
                last.ended = true;
            }
            for (Page page : pages) {
                if (box != null && isOn(page.box, box)) {
                    int bottom = box.getAbsY() + box.getHeight();
                    page.bottom = Math.max(page.bottom, Math.min(bottom, page.box.getBottom()));
                    last = page;
                    if (block.kind().equals("chart")) {
                        page.charts.put(block.id(), box);
                    }
                }
            }
        }
        Map<String, Integer> higher = new HashMap<>();
        pages.stream().limit(Math.max(0, pages.size() - 1)).forEach(page -> grow(page, higher));
        return higher;
    }

    private void grow(Page page, Map<String, Integer> higher) {
        double room = page.box.getBottom() - page.bottom;
        if (page.ended || page.charts.isEmpty() || room < LEAST * (page.box.getBottom() - page.box.getTop())) {
            return;
        }
        double all = page.charts.values().stream().mapToInt(Box::getHeight).sum();
        double share = Math.min(MOST, SPARE * room / all);
        page.charts.forEach((id, box) -> higher.put(id, (int) (share * box.getHeight() / unit)));
    }
}
