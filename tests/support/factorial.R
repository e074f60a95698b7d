# What core/stats/{differences,factorial,measures}.test.ts expect, worked out in R: Rscript tests/support/factorial.R
options(contrasts=c("contr.sum","contr.poly"), digits=12, width=160)
d <- read.csv("tests/support/factorial.csv")
d$side <- factor(d$side, levels=c("left","right","ahead")); d$wind <- factor(d$wind)
d$person <- factor(d$person); d$group <- factor(d$group); d$crew <- factor(d$crew)
cell <- function(p, s, w) with(d, rt[person==p & side==s & wind==w])
paired <- function(a, b) { t <- t.test(a, b, paired=TRUE)
  print(c(d=mean(a-b), low=t$conf.int[1], high=t$conf.int[2], t=unname(t$statistic), df=unname(t$parameter), p=t$p.value,
    dz=mean(a-b)/sd(a-b), dav=mean(a-b)/((sd(a)+sd(b))/2))); t$p.value }
cat("gale - calm at each side, and over all\n")
ps <- sapply(levels(d$side), function(s) { e <- d[d$side==s,]; paired(e$rt[e$wind=="gale"], e$rt[e$wind=="calm"]) })
cat("holm\n"); print(p.adjust(ps, "holm"))
m <- aggregate(rt ~ person + wind, d, mean); invisible(paired(m$rt[m$wind=="gale"], m$rt[m$wind=="calm"]))
cat("late - early\n")
m <- aggregate(rt ~ person + group, d, mean); a <- m$rt[m$group=="late"]; b <- m$rt[m$group=="early"]
w <- t.test(a, b); print(c(d=mean(a)-mean(b), low=w$conf.int[1], high=w$conf.int[2], t=unname(w$statistic), df=unname(w$parameter), p=w$p.value,
  ds=(mean(a)-mean(b))/sqrt(((length(a)-1)*var(a)+(length(b)-1)*var(b))/(length(a)+length(b)-2))))
# Sums of squares of each stratum out of scores by orthonormal contrasts; type III between persons.
Y <- do.call(rbind, lapply(levels(d$person), function(p) c(sapply(levels(d$side), function(s) sapply(levels(d$wind), function(w) cell(p,s,w))))))
who <- unique(d[,c("person","group","crew")]); who <- who[match(levels(d$person), who$person),]
orth <- function(k) { C <- contr.helmert(k); sweep(C, 2, sqrt(colSums(C^2)), "/") }; flat <- function(k) matrix(1/sqrt(k), k, 1)
strata <- list(persons=kronecker(flat(3), flat(2)), side=kronecker(orth(3), flat(2)), wind=kronecker(flat(3), orth(2)), "side:wind"=kronecker(orth(3), orth(2)))
table <- function(between) { out <- list(); errors <- 0
  for (name in names(strata)) { Z <- Y %*% strata[[name]]; k <- ncol(Z)
    fit <- lm(as.formula(paste("Z ~", between)), who); R <- if (k==1) matrix(residuals(fit)) else residuals(fit); E <- crossprod(R); errors <- errors + sum(diag(E))
    eps <- sum(diag(E))^2/(k*sum(E*E)); X <- model.matrix(fit); as <- attr(X, "assign"); labels <- c("", attr(terms(fit), "term.labels"))
    for (term in unique(as)) { if (name=="persons" && term==0) next
      keep <- X[, as!=term, drop=FALSE]; R0 <- if (ncol(keep)==0) Z else as.matrix(residuals(lm.fit(keep, Z)))
      ss <- sum(R0^2)-sum(R^2); df <- sum(as==term)*k; dfe <- fit$df.residual*k; F <- (ss/df)/(sum(R^2)/dfe)
      out[[length(out)+1]] <- list(sub("^persons:?", "", paste(c(name, if (term>0) labels[term+1]), collapse=":")), ss=ss, df=df, dfe=dfe, F=F, p=pf(F,df,dfe,lower.tail=FALSE), eps=eps, gg=pf(F,df*eps,dfe*eps,lower.tail=FALSE)) } }
  for (o in out) cat(sprintf("%-22s df %d %d F %.10f p %.10g eps %.10f gg %.10g etaG %.10f\n", o[[1]], o$df, o$dfe, o$F, o$p, o$eps, o$gg, o$ss/(o$ss+errors))) }
cat("within and group\n"); table("group")
cat("within alone\n"); table("1")
cat("within, group and crew\n"); table("group*crew")
cat("aov within alone, for comparison\n"); print(summary(aov(rt ~ side*wind + Error(person/(side*wind)), d)))
cat("d' and c of 17 of 20 hits and 4 of 25 false alarms; of 20 of 20 and 0 of 25\n")
z <- function(y, n) qnorm((y+.5)/(n+1)); for (v in list(c(17,4), c(20,0))) print(c(d=z(v[1],20)-z(v[2],25), c=-(z(v[1],20)+z(v[2],25))/2))
cat("balanced integration of times 420 455 390 512 and shares .95 .9 .85 .97\n")
sc <- function(x) (x-mean(x))/sqrt(mean((x-mean(x))^2)); print(sc(c(.95,.9,.85,.97)) - sc(c(420,455,390,512)))
