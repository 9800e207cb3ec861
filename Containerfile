# The drystack program on Debian stable, installed as `make demo` installs it:
#   podman build -t drystack .          (or docker build -f Containerfile -t drystack .)
#   podman run --rm -v "$PWD:/work" drystack rollup --orders orders.csv --date ordered_on --by month \
#     --show 'sales = sum(amount)'
FROM debian:stable-slim
RUN apt-get update -qq \
  && apt-get install -y -qq --no-install-recommends ca-certificates make r-base-core r-base-dev
COPY . /opt/drystack
RUN cd /opt/drystack && tools/setup demo && tools/install /usr/local/bin && rm -rf /var/lib/apt/lists/*
ENV LANG=C.UTF-8
WORKDIR /work
ENTRYPOINT ["drystack"]
CMD ["--help"]
