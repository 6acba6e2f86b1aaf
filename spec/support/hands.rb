# frozen_string_literal: true

# Two ways to do the same on a page: with the mouse, and with the keys alone. Both find things by what they are called.
module Hands
  # What both have in common: they work on the page of an example.
  class Hand
    def initialize(page)
      @page = page
    end

    private

    attr_reader :page

    def shown(css) = page.find(css, match: :first)
    def quoted(text) = text.gsub('"', '\"')
  end

  # Points and presses.
  class Mouse < Hand
    # Fills in the one value of the cell that is open.
    def fill_value(text)
      field = shown("[data-test=cell] input[inputmode=decimal]")
      field.click
      field.send_keys(text)
    end

    def button(name) = still(page.find(:link_or_button, name, match: :prefer_exact)).click
    def open(css) = still(shown(css)).click

    def choose(label, words)
      open_list(label)
      still(page.find("[role=option]", text: words, exact_text: false, match: :prefer_exact)).click
    end

    def several(label, *words)
      open_list(label)
      words.each { |word| page.find("[role=option]", text: word, match: :prefer_exact).click }
      page.find("[role=listbox]").send_keys(:escape)
    end

    def pick(label, words)
      input = shown("input[aria-label=\"#{quoted(label)}\"]")
      input.click
      input.send_keys([:control, "a"], words)
      page.find("[role=option]", text: words, match: :first).click
    end

    def fill(label, text)
      field = page.find(:field, label, match: :first)
      field.click
      field.send_keys([:control, "a"], text, :tab)
    end

    private

    # What an answer says above a button can move it between looking and pressing; a person sees that and presses again.
    # A press that hit and opened nothing is not repeated.
    def open_list(label)
      opener = shown("button[aria-label^=\"#{quoted(label)}: \"]")
      3.times do
        stood = at(still(opener))
        opener.click
        break if page.has_css?("[role=option]", wait: 2) || at(opener) == stood
      end
    end

    # What checks say under a field moves what stands below it; a person waits until it stands still.
    def still(element)
      before = at(element)
      20.times do
        page.evaluate_async_script("requestAnimationFrame(() => requestAnimationFrame(() => arguments[0]()))")
        now = at(element)
        break if now == before

        before = now
      end
      element
    end

    def at(element) =
      element.evaluate_script("(() => { const at = this.getBoundingClientRect(); return [at.x, at.y] })()")
  end

  # Never points: walks with Tab, opens with Enter, chooses with the arrows.
  class Keys < Hand
    # Things that Tab stops at, in order, and whether each is what is looked for.
    LOOK = <<~JS
      const wanted = arguments[0], name = arguments[1]
      const reached = 'a[href], button:not([disabled]), input:not([disabled]), select, textarea, summary, [tabindex]'
      const stops = [...document.querySelectorAll(reached)]
        .filter((one) => one.tabIndex >= 0 && one.offsetParent !== null)
      const called = (one) => (one.getAttribute('aria-label') || one.textContent || '').trim().replace(/\\s+/g, ' ')
      const labelled = (one) => [...(one.labels || [])].map((label) => label.textContent.trim()).includes(name)
      const fits = {
        css: (one) => one.matches(name),
        field: (one) => one.matches('input, textarea') && (called(one) === name || labelled(one)),
        button: (one) => one.matches('a, button') && called(one) === name,
      }[wanted]
      return [stops.indexOf(document.activeElement), stops.findIndex(fits)]
    JS

    def fill_value(text)
      reach("css", "[data-test=cell] input[inputmode=decimal]")
      type(text)
    end

    def button(name) = reach("button", name) && type(:enter)
    def open(css) = reach("css", css) && type(:enter)

    def choose(label, words)
      reach("css", "button[aria-label^=\"#{quoted(label)}: \"]")
      type(:enter)
      page.find("[role=listbox]")
      walk_to(words)
      type(:enter)
    end

    def several(label, *words)
      reach("css", "button[aria-label^=\"#{quoted(label)}: \"]")
      type(:enter)
      page.find("[role=listbox]")
      words.each { |word| walk_to(word) && type(:enter) }
      type(:escape)
    end

    def pick(label, words)
      reach("css", "input[aria-label=\"#{quoted(label)}\"]")
      chord(:control, "a")
      type(words)
      page.find("[role=option]", text: words, match: :first)
      type(:enter)
    end

    def fill(label, text)
      reach("field", label)
      chord(:control, "a")
      type(text, :tab)
    end

    private

    def type(*keys) = keys.each { |key| page.driver.browser.action.send_keys(key).perform }

    def chord(*keys, last) =
      keys.inject(page.driver.browser.action) { |action, key| action.key_down(key) }.send_keys(last)
        .then { |action| keys.inject(action) { |all, key| all.key_up(key) } }.perform

    # Goes there by Tab, or back by Shift and Tab, and makes sure to have arrived.
    def reach(wanted, name)
      ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + Capybara.default_max_wait_time
      while Process.clock_gettime(Process::CLOCK_MONOTONIC) < ends
        here, there =
          page.evaluate_script("(function () { #{LOOK} })(#{JSON.generate(wanted)}, #{JSON.generate(name)})")
        next wait_a_frame if there.negative?
        return true if here == there

        step(there - here)
      end
      raise "Tab never came to #{wanted} #{name.inspect}"
    end

    def wait_a_frame = page.evaluate_async_script("requestAnimationFrame(() => arguments[0]())")

    def step(count)
      action = page.driver.browser.action
      action.key_down(:shift) if count.negative?
      count.abs.times { action.send_keys(:tab) }
      action.key_up(:shift) if count.negative?
      action.perform
    end

    # In an open list, down to what is wanted.
    def walk_to(words)
      type(:home)
      60.times do
        at =
          page.evaluate_script(
            "(() => { const list = document.querySelector('[role=listbox]'); const id = " \
            "list.getAttribute('aria-activedescendant'); return id ? " \
            "document.getElementById(id).textContent.trim().replace(/^✓\\s*/, '') : '' })()"
          )
        return true if at == words

        type(:down)
      end
      raise "The arrows never came to #{words.inspect}"
    end
  end
end
