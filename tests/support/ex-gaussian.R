# What core/stats/ex-gaussian.test.ts expects, worked out in R: Rscript tests/support/ex-gaussian.R
x <- c(434.8, 671.8, 444.7, 988.4, 607.7, 467, 386.8, 466.3, 552, 572.3, 423.8, 443.1, 430.1, 422.7, 558.7, 511.5, 493.9, 583.5, 449, 520.3, 553.2, 510.4, 509.8, 393.7, 404.9, 946.2, 457.8, 430.9, 524.8, 564.8, 410, 509.2, 738.1, 451.7, 460.1, 888.2, 681.6, 482.5, 688.2, 1326.8, 477, 634.7, 542.3, 431.7, 472.7, 488.5, 574.9, 468, 513.9, 467.7, 754, 506.8, 513, 542.4, 495.1, 482.4, 705.3, 411.9, 544, 393.1)
logdensity <- function(x, m, s, t) -log(t) + (m - x)/t + s^2/(2*t^2) + pnorm((x - m)/s - s/t, log.p = TRUE)
cat("log density at 300, 430, 900 of 420, 35, 110; and of 420, 35, 1\n")
print(logdensity(c(300, 430, 900), 420, 35, 110), digits = 12); print(logdensity(c(300, 430, 470), 420, 35, 1), digits = 12)
lost <- function(p) { s <- exp(p[2]); t <- exp(p[3]); if (s/t > 1e4 || s > 1e4 || t > 1e4) 1e10 else -sum(logdensity(x, p[1], s, t)) }
fit <- optim(c(mean(x) - .8*sd(x), log(sd(x)*.6), log(.8*sd(x))), lost, control = list(reltol = 1e-14, maxit = 5000))
fit <- optim(fit$par, lost, control = list(reltol = 1e-15, maxit = 5000))
cat("fit\n"); print(c(fit$par[1], exp(fit$par[2:3]), -fit$value), digits = 10)
