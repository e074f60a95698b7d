# The 95 % intervals that core/stats/stats.test.ts expects, worked out in R: Rscript tests/support/intervals.R
# Cousineau (2005) with the correction of Morey (2008): within persons, between them, and within persons of each group.
d <- read.csv("tests/support/intervals.csv")
d$side <- factor(d$side, levels=c("left","right","ahead"))
half <- function(x, C) qt(.975, length(x)-1) * sd(x) * (if (C > 1) sqrt(C/(C-1)) else 1) / sqrt(length(x))
freed <- function(d) d$rt - ave(d$rt, d$person) + mean(tapply(d$rt, d$person, mean))
d$n <- freed(d); print(sapply(split(d$n, d$side), half, C=3), digits=12)
m <- aggregate(rt ~ person + group, d, mean); print(sapply(split(m$rt, m$group), half, C=1), digits=12)
for (g in c("early","late")) { e <- d[d$group==g,]; e$n <- freed(e); print(sapply(split(e$n, e$side), half, C=3), digits=12) }
