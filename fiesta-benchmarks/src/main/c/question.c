/*
 * The one question as a program written for it alone: settled sales by site and item; count, sum, least and greatest amount. It
 * knows the columns and trusts the file, which is mapped and read by some threads.
 *
 *   cc -O3 -march=native -pthread -o question question.c && ./question sales.csv 2
 */
#include <fcntl.h>
#include <pthread.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/stat.h>

#define ROOM 4096
#define MOST_THREADS 64
#define LONGEST_LINE 4096

typedef struct {
    uint64_t hash;
    const char *site, *item;
    int site_length, item_length;
    int64_t count, sum, least, most;
} group;

typedef struct {
    const char *from, *to;
    group groups[ROOM];
} part;

static const char *skip(const char *at) {
    return (const char *)memchr(at, ',', LONGEST_LINE) + 1;
}

static group *find(part *own, uint64_t hash, const char *site, int site_length, const char *item, int item_length) {
    unsigned slot = hash >> 20 & (ROOM - 1);
    group *g = &own->groups[slot];
    while (g->site && !(g->hash == hash && g->site_length == site_length && g->item_length == item_length
                        && !memcmp(g->site, site, site_length) && !memcmp(g->item, item, item_length))) {
        slot = (slot + 1) & (ROOM - 1);
        g = &own->groups[slot];
    }
    if (!g->site) {
        *g = (group){hash, site, item, site_length, item_length, 0, 0, INT64_MAX, INT64_MIN};
    }
    return g;
}

static uint64_t hashed(uint64_t hash, const char *text, int length) {
    for (int i = 0; i < length; i++) {
        hash = (hash ^ text[i]) * 1099511628211ull;
    }
    return hash;
}

static void *work(void *argument) {
    part *own = argument;
    const char *at = own->from;
    while (at < own->to) {
        const char *site = skip(skip(at));
        at = skip(site);
        int site_length = at - 1 - site;
        const char *item = skip(at);
        at = skip(item);
        int item_length = at - 1 - item;
        const char *status = skip(at);
        at = skip(status);
        int settled = at - 1 - status == 7 && *status == 's';
        at = skip(at);
        if (settled) {
            int negative = *at == '-';
            int64_t amount = 0;
            for (at += negative; *at != ','; at++) {
                if (*at != '.') {
                    amount = amount * 10 + *at - '0';
                }
            }
            amount = negative ? -amount : amount;
            uint64_t hash = hashed(hashed(1469598103934665603ull, site, site_length), item, item_length);
            group *g = find(own, hash, site, site_length, item, item_length);
            g->count++;
            g->sum += amount;
            g->least = amount < g->least ? amount : g->least;
            g->most = amount > g->most ? amount : g->most;
        }
        at = (const char *)memchr(at, '\n', LONGEST_LINE) + 1;
    }
    return 0;
}

int main(int count, char **words) {
    int threads = count > 2 ? atoi(words[2]) : 2;
    int file = open(words[1], O_RDONLY);
    struct stat about;
    fstat(file, &about);
    char *bytes = mmap(0, about.st_size, PROT_READ, MAP_PRIVATE | MAP_POPULATE, file, 0);
    const char *end = bytes + about.st_size;
    const char *at = (const char *)memchr(bytes, '\n', about.st_size) + 1;
    part *parts = calloc(threads, sizeof(part));
    pthread_t workers[MOST_THREADS];
    for (int i = 0; i < threads; i++) {
        const char *to = bytes + about.st_size / threads * (i + 1);
        parts[i].from = at;
        parts[i].to = at = i == threads - 1 ? end : (const char *)memchr(to, '\n', LONGEST_LINE) + 1;
        pthread_create(&workers[i], 0, work, &parts[i]);
    }
    for (int i = 0; i < threads; i++) {
        pthread_join(workers[i], 0);
    }
    for (int i = 1; i < threads; i++) {
        for (int k = 0; k < ROOM; k++) {
            group *theirs = &parts[i].groups[k];
            if (theirs->site) {
                group *g = find(parts, theirs->hash, theirs->site, theirs->site_length, theirs->item, theirs->item_length);
                g->count += theirs->count;
                g->sum += theirs->sum;
                g->least = theirs->least < g->least ? theirs->least : g->least;
                g->most = theirs->most > g->most ? theirs->most : g->most;
            }
        }
    }
    for (int k = 0; k < ROOM; k++) {
        group *g = &parts[0].groups[k];
        if (g->site) {
            printf("%.*s,%.*s,%ld,%ld,%ld,%ld\n", g->site_length, g->site, g->item_length, g->item, (long)g->count,
                   (long)g->sum, (long)g->least, (long)g->most);
        }
    }
}
