# frozen_string_literal: true

require "capybara/rspec"
require "selenium-webdriver"
require "axe-rspec"

# A real browser before a running Yenvo: web process, worker and database of their own, by the clock of 24 November.
module Browser
  # Without what a browser does for pages that may come next, or for its maker; all pages are of one site.
  ARGUMENTS = %w[
    --headless=new
    --no-sandbox
    --disable-gpu
    --disable-quic
    --no-first-run
    --disable-background-networking
    --disable-component-update
    --disable-sync
    --disable-dev-shm-usage
    --disable-extensions
    --disable-site-isolation-trials
    --renderer-process-limit=1
    --disable-features=SpareRendererForSitePerProcess,IsolateOrigins,BackForwardCache,OptimizationHints,Translate
    --lang=en-GB
  ].freeze
  CLOCK = "2026-11-24T12:00:00Z"

  Capybara.register_driver(:yenvo) do |app|
    options =
      Selenium::WebDriver::Chrome::Options.new(
        binary: "/usr/bin/chromium", args: [*ARGUMENTS, "--user-data-dir=#{Dir.mktmpdir}"]
      )
    Capybara::Selenium::Driver.new(
      app, browser: :chrome, options:,
      service: Selenium::WebDriver::Service.chrome(path: "/usr/bin/chromedriver")
    )
  end
  Capybara.run_server = false
  Capybara.default_driver = :yenvo
  Capybara.default_max_wait_time = 15
  # Each look costs the browser, and with it what is waited for.
  Capybara.default_retry_interval = 0.04
  Capybara.enable_aria_label = true

  class << self
    include Processes

    # Starts all once for all browser specs.
    def house
      @house ||= begin
        url = Database.make(Database.name("browser"))
        address = start_web(url, YENVO_CLOCK: CLOCK)
        worker(url)
        at_exit { stop_all }
        [Yenvo::Store::Root.open(url, connections: 2), address, url]
      end
    end

    def worker(url = house[2]) = @worker = start_worker(url, YENVO_CLOCK: CLOCK)

    # Nobody works while the block runs, so that a spec can do it itself, step by step.
    def without_worker
      kill(@worker, "TERM")
      yield
    ensure
      worker
    end

    # Takes away what an example left; the same processes go on.
    def clear
      root = house[0]
      Processes.instance_method(:wait_until).bind_call(self, "the worker is idle") { root.waiting.count.zero? }
      kits = !root.db[:kits].empty?
      Database.empty(root.db)
      if kits
        root.setup_store.changed(who: nil, now: Database::NOW)
      else
        root.begin_epoch("cleared", who: nil, now: Database::NOW)
      end
      root.db[:rule_spans].delete
      Database.clear_audit(root.db)
    end
  end

  # What the set-up is kept in; see +keeping_setup+.
  SETUP = %i[
    settings unique_values teams queues people memberships absences kinds fields accounts account_otp_keys
    account_recovery_codes forms form_versions doors
  ].freeze

  def root = Browser.house[0]

  # Runs an example that changes the set-up, and puts it back as it was, since all examples share a house.
  def keeping_setup
    kept = SETUP.to_h { |table| [table, root.db[table].all] }
    yield
  ensure
    root.db.transaction do
      root.db.run "SET FOREIGN_KEY_CHECKS=0"
      kept.each do |table, rows|
        root.db[table].delete
        root.db[table].multi_insert(rows)
      end
      root.db.run "SET FOREIGN_KEY_CHECKS=1"
      root.setup_store.changed(who: nil, now: Database::NOW)
    end
  end

  # Signs in, without the page for it (which has a spec of its own), and opens a page.
  # @param name [String] of somebody at the yard
  # @param at [String, nil] path; nil leaves it to the example
  def sign_in(name, at: "/", width: 1280, height: 800)
    page.driver.browser.execute_cdp(
      "Emulation.setDeviceMetricsOverride", width:, height:, deviceScaleFactor: 1, mobile: width < 500
    )
    session = Streams::Guest.new(Capybara.app_host, name.split.first.downcase).session
    page.driver.browser.execute_cdp(
      "Network.setCookie", name: "yenvo", value: session, url: Capybara.app_host, httpOnly: true, sameSite: "Lax"
    )
    visit at if at
    expect(page).to have_css("h1", text: "Worklist", visible: :all) if at == "/"
  end

  # Types like a person: Capybara's quick way sets the middle of a long text without telling the page.
  def fill_in(label, with:) = super(label, with:, fill_options: {rapid: false})

  # Chooses from a select by what it is called.
  def choose_from(label, words)
    find("button[aria-label^='#{label}: ']", match: :first).click
    find("[role=option]", text: words, match: :prefer_exact, exact_text: false).click
  end

  # Chooses several, and closes the list.
  def choose_several(label, *words)
    find("button[aria-label^='#{label}: ']", match: :first).click
    words.each { |word| find("[role=option]", text: word).click }
    find("[role=listbox]").send_keys(:escape)
  end

  # Finds a field of the rule by its name.
  def pick_field(label, words, scope: page)
    input = scope.find("input[aria-label='#{label}']", match: :first)
    input.click
    input.send_keys([:control, "a"], words)
    find("[role=option]", text: words, match: :first).click
  end

  # Makes the network of this page slow or takes it away; without settings it is as it was.
  def network(offline: false, latency: 0)
    page.driver.browser.execute_cdp("Network.enable")
    page.driver.browser.execute_cdp(
      "Network.emulateNetworkConditions", offline:, latency:, downloadThroughput: -1,
      uploadThroughput: -1
    )
  end

  def press(*keys) = page.driver.browser.action.send_keys(*keys).perform
end
