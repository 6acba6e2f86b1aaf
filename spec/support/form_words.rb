# frozen_string_literal: true

# Forms for visitors, and what a visitor's browser sends.
module FormWords
  SURVEY = {
    "heading" => "Ask for a survey", "contact" => "asked_by", "consent" => "You may keep this.",
    "items" => [
      {"ask" => "contact:title", "label" => "Your name", "required" => true},
      {"ask" => "contact:email", "label" => "Your e-mail", "required" => true},
      {"ask" => "contact:phone", "label" => "Your phone"},
      {"ask" => "title", "label" => "Your boat", "required" => true},
      {"ask" => "survey_type", "label" => "What for"}, {"ask" => "wanted_by", "label" => "By when"}
    ],
    "fixed" => {"stage" => "new"}, "origins" => ["https://sea.example"]
  }.freeze

  # In the browser: whoever is told that they were too quick sends it again.
  # @yield presses the button
  def send_form
    4.times do
      yield if page.has_css?("main form button[type=submit]", wait: 0)
      return if page.has_css?("main [role=status]", wait: 3)
    end
    raise "It was not taken. The page says: #{find("main").text}"
  end

  # @return [Hash] row of a form that is published
  def a_form(name = "Survey", kind: "entry/survey_requests", **more)
    plain = ((kind == "entry/survey_requests") ? SURVEY : {"heading" => name}).merge(more.transform_keys(&:to_s))
    key = root.forms.make(name, kind, cause: cause("maren"))
    root.forms.write(key, plain, cause: cause("maren"))
    root.forms.publish(key, cause: cause("maren"))
    root.forms.find!(key)
  end
end

# Doors of programs, and what they send.
module DoorWords
  WORDS = {
    "how" => "make",
    "rows" => [
      {"field" => "title", "path" => "data.headline"}, {"field" => "stars", "path" => "data.stars"},
      {"field" => "words", "path" => "data.text"}, {"field" => "web_link", "path" => "data.link"},
      {"field" => "came_from", "path" => "data.site", "choices" => {"board" => "harbour_board"}},
      {"field" => "written_by", "path" => "data.author.mail", "by" => "email"}
    ]
  }.freeze

  # @return [Hash] row of a door that is open
  def a_door(name = "Reviews", kind: "entry/words_about_us", **more)
    key, = root.program_doors.make(name, kind, cause: cause("maren"))
    map = {**WORDS, **more.transform_keys(&:to_s)}
    root.program_doors.write(key, {"map" => map, "open" => true}, cause: cause("maren"))
    root.program_doors.find!(key)
  end

  def an_event(id = "1", data = {}, **more)
    data = {"headline" => "Fair winds", "stars" => 5, "link" => "https://sea.example/#{id}", **data}
    {
      "specversion" => "1.0", "id" => id, "source" => "https://sea.example", "type" => "review.written", "data" => data,
      **more.transform_keys(&:to_s)
    }
  end
end
